import { t } from '@lingui/core/macro'

/** The words for what the server names by a key that reads like a word in English. */

const NAMES: Record<string, string> = {
  engine: t`engine`,
  head: t`head`,
  side: t`side`,
  intake: t`intake`,
  exhaust: t`exhaust`,
  found: t`found`,
  left: t`left`,
  after: t`after`,
  before: t`before`,
  tight: t`tight`,
  loose: t`loose`,
  open: t`inconclusive`,
  in: t`in spec`,
  tightening: t`tightening`,
  loosening: t`loosening`,
  steady: t`steady`,
  unclear: t`unclear`,
  valve: t`valve`,
  cylinder: t`cylinder`,
  seat: t`seat`,
  spring: t`spring`,
  rocker: t`rocker`,
  pushrod: t`pushrod`,
  lifter: t`lifter`,
  camshaft: t`camshaft`,
  cold: t`cold`,
  warm: t`warm`,
  idle: t`idle`,
  load: t`load`,
  always: t`always`,
  'comes-and-goes': t`comes and goes`,
  sudden: t`sudden`,
  gradual: t`gradual`,
  'after-work': t`after work`,
  gone: t`gone`,
  better: t`better`,
  worse: t`worse`,
  new: t`new`,
  same: t`same`,
  changed: t`changed`,
  go: t`went in`,
  drag: t`drags`,
  free: t`slides freely`,
  'no-go': t`won’t go`,
}

export function named(key: string): string {
  return NAMES[key] ?? key
}

/** The way a clearance has changed. */
export function changed(direction: string): string {
  return direction.startsWith('tight') ? t`tighter` : t`looser`
}
