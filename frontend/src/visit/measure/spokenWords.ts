import type { Advice, Estimate, Valve } from '@/api/client'
import { bladeFigure, type LengthUnit } from '@/design/format'
import { VERDICT_WORDS } from '@/design/shapes'

/** A valve by name for the ear: '1 intake', and of two such '1 intake, second'. */
export function valveName(valve: Valve, all: Valve[]): string {
  const alike = all.filter((one) => one.cylinder === valve.cylinder && one.side === valve.side)
  const place = ['first', 'second', 'third', 'fourth'][alike.indexOf(valve)]
  const name = `${valve.cylinder} ${valve.side}`
  return alike.length > 1 && place !== undefined ? `${name}, ${place}` : name
}

export function bladeName(bladesMm: number[], unit: LengthUnit): string {
  return bladesMm.map((blade) => bladeFigure(blade, unit)).join(' and ')
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
  const after = isLast ? 'All valves are done' : 'Say next valve'
  if (settled && estimate) {
    const verdict = VERDICT_WORDS[estimate.verdict]
    return advancesByItself && !isLast ? verdict : `${verdict}. ${after}`
  }
  if (advice?.end === 'no-gain' || advice?.end === 'enough-tries') return `Not decided. ${after}`
  return `try ${bladeName(hand, unit)}`
}
