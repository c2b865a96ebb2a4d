import { t } from '@lingui/core/macro'
import type { Advice, Estimate, Valve } from '@/api/client'
import { bladeFigure, type LengthUnit } from '@/design/format'
import { VERDICT_WORDS } from '@/design/shapes'
import { named } from '@/design/names'

/** A valve by name for the ear: '1 intake', and of two such '1 intake, second'. */
export function valveName(valve: Valve, all: Valve[]): string {
  const alike = all.filter((one) => one.cylinder === valve.cylinder && one.side === valve.side)
  const place = [t`first`, t`second`, t`third`, t`fourth`][alike.indexOf(valve)]
  const name = `${valve.cylinder} ${named(valve.side)}`
  return alike.length > 1 && place !== undefined ? `${name}, ${place}` : name
}

export function bladeName(bladesMm: number[], unit: LengthUnit): string {
  return bladesMm.map((blade) => bladeFigure(blade, unit)).join(t` and `)
}

/** What comes next at the valve that is measured, to be said aloud: 'try 0.15', or that it is decided. */
export function nextWords({
  settled,
  estimate,
  advice,
  hand,
  isLast,
  advancesByItself,
  unit,
}: {
  settled: boolean
  estimate: Estimate | null
  advice: Advice | null
  hand: number[]
  isLast: boolean
  advancesByItself: boolean
  unit: LengthUnit
}): string {
  const after = isLast ? t`All valves are done` : t`Say next valve`
  if (settled && estimate) {
    const verdict = VERDICT_WORDS[estimate.verdict]
    return advancesByItself && !isLast ? verdict : `${verdict}. ${after}`
  }
  if (advice?.end === 'no-gain' || advice?.end === 'enough-tries') return t`Not decided. ${after}`
  return t`try ${bladeName(hand, unit)}`
}
