import { t } from '@lingui/core/macro'
import type { HowRecorded, Phase } from '@/api/client'
import { typedFigure } from '@/design/typedFigure'

/** What is known beside a recording, as it is typed. */
export type HowTyped = {
  phase: Phase
  rpm: string
  revsRaised: boolean
  clip: string
  channel: string
  sparkEvery: '' | '360' | '720'
  advance: string
  distance: string
  note: string
}

export const NOTHING_TYPED: HowTyped = {
  phase: 'found',
  rpm: '',
  revsRaised: false,
  clip: '',
  channel: '',
  sparkEvery: '',
  advance: '',
  distance: '',
  note: '',
}

/** What the boxes show of a recording that is kept. */
export function typedOf(how: HowRecorded, phase: Phase, note: string): HowTyped {
  const text = (value: number | null | undefined) => (value == null ? '' : String(value))
  return {
    phase,
    rpm: text(how.rpm),
    revsRaised: how.revs_raised ?? false,
    clip: text(how.clip),
    channel: text(how.sound_channel),
    sparkEvery: how.spark_every_deg == null ? '' : how.spark_every_deg === 360 ? '360' : '720',
    advance: text(how.advance_deg),
    distance: text(how.mic_distance_m),
    note,
  }
}

const BOUNDS = {
  rpm: { from: 200, to: 9000, unit: 'rpm' },
  advance: { from: -60, to: 90, unit: t`degrees before top` },
  distance: { from: 0.01, to: 20, unit: 'm' },
}

/** What is wrong with what was typed, by box; empty where all is well. */
export function faultsOf(typed: HowTyped): Partial<Record<keyof typeof BOUNDS, string>> {
  const faults: Partial<Record<keyof typeof BOUNDS, string>> = {}
  for (const [name, { from, to, unit }] of Object.entries(BOUNDS)) {
    const key = name as keyof typeof BOUNDS
    if (typed[key].trim() === '') continue
    const value = typedFigure(typed[key])
    if (value === null || value < from || value > to) {
      faults[key] = t`must be a number from ${from} to ${to} ${unit}`
    }
  }
  return faults
}

/** What is sent. */
export function howOf(typed: HowTyped): HowRecorded {
  return {
    rpm: typedFigure(typed.rpm),
    revs_raised: typed.revsRaised,
    clip: typed.clip === '' ? null : Number(typed.clip),
    sound_channel: typed.channel === '' ? null : Number(typed.channel),
    spark_every_deg: typed.sparkEvery === '' ? null : typed.sparkEvery === '360' ? 360 : 720,
    advance_deg: typedFigure(typed.advance),
    mic_distance_m: typedFigure(typed.distance),
  }
}
