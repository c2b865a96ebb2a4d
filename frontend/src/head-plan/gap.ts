import { t } from '@lingui/core/macro'
import { VERDICT_WORDS } from '@/design/shapes'
import {
  chance,
  percent,
  sdText,
  length,
  lengthFigure,
  lengthRange,
  type LengthUnit,
} from '@/design/format'
import type { VerdictWord } from '@/design/shapes'
import { named } from '@/design/names'

/** What a gap window shows of one valve. */
export type Gap = {
  verdict: VerdictWord
  leaning: 'tight' | 'in' | 'loose'
  probability: number
  meanMm: number
  lowMm: number
  highMm: number
  /** What went and what did not, at the same temperature as the estimate. */
  wentMm: number | null
  refusedMm: number | null
  /** The same as they were felt; null where the temperature hardly moved them. */
  felt: { wentMm: number | null; refusedMm: number | null } | null
  /** Whether it is known well enough to be given as a figure, and not as a bound. */
  isNumber: boolean
  contradiction: boolean
}

export type SpecRange = { min_mm: number; max_mm: number }

/** The spec of each valve, as the plan wants it. */
export function specsOf(analysis: {
  valves: { valve: string; spec: SpecRange | null }[]
}): Record<string, SpecRange | null> {
  return Object.fromEntries(analysis.valves.map((valve) => [valve.valve, valve.spec]))
}

/** Enough of a reading's estimate to draw it. */
export type EstimateLike = {
  mean_mm: number
  q05_mm: number
  q95_mm: number
  verdict: 'tight' | 'in' | 'loose' | 'open'
  leaning: 'tight' | 'in' | 'loose'
  p_tight: number
  p_in: number
  p_loose: number
  contradiction: boolean
  bracket: { went_mm: number | null; refused_mm: number | null }
  gives_number: boolean
  correction_mm: number
  verdict_as_read: 'tight' | 'in' | 'loose' | 'open' | null
}

export function gapOf(estimate: EstimateLike): Gap {
  const { went_mm: wentMm, refused_mm: refusedMm } = estimate.bracket
  const moved = (mm: number | null) => (mm === null ? null : mm - estimate.correction_mm)
  return {
    // Answers that contradict each other settle nothing, whatever they would come to.
    verdict: estimate.contradiction ? 'open' : estimate.verdict,
    leaning: estimate.leaning,
    probability: { tight: estimate.p_tight, in: estimate.p_in, loose: estimate.p_loose }[
      estimate.leaning
    ],
    meanMm: estimate.mean_mm,
    lowMm: estimate.q05_mm,
    highMm: estimate.q95_mm,
    wentMm: moved(wentMm),
    refusedMm: moved(refusedMm),
    felt: estimate.verdict_as_read === null ? null : { wentMm, refusedMm },
    isNumber: estimate.gives_number,
    contradiction: estimate.contradiction,
  }
}

/** Whether nothing went in: all that is known is 'less than that'. */
export function onlyUnder(gap: Gap): boolean {
  return gap.wentMm === null && gap.refusedMm !== null
}

/** Whether all that is known is 'more than that'. */
export function onlyOver(gap: Gap): boolean {
  return gap.refusedMm === null && gap.wentMm !== null && !gap.isNumber
}

/** Whether no gap is left as far as can be told; shown as a word, never as a negative number. */
export function isNone(gap: Gap): boolean {
  return onlyUnder(gap) && gap.meanMm <= 0
}

/** The figure under a window. */
export function gapFigure(gap: Gap, unit: LengthUnit): string {
  if (isNone(gap)) return t`none`
  if (onlyUnder(gap)) return `<${lengthFigure(gap.refusedMm ?? 0, unit)}`
  if (onlyOver(gap)) return `>${lengthFigure(gap.wentMm ?? 0, unit)}`
  return lengthFigure(Math.max(gap.meanMm, 0), unit)
}

/** The verdict in words with the figure behind it: 'inconclusive, probably in spec (75 %)'. */
export function verdictText(gap: Gap): string {
  if (gap.contradiction) return t`contradictory answers`
  return gap.verdict === 'open'
    ? t`inconclusive, probably ${VERDICT_WORDS[gap.leaning]} (${percent(gap.probability)})`
    : `${VERDICT_WORDS[gap.verdict]}: ${chance(gap.probability)}`
}

/** What is known of the clearance, in words. */
export function gapText(gap: Gap, unit: LengthUnit): string {
  if (onlyUnder(gap)) {
    const under = t`under ${length(gap.refusedMm ?? 0, unit)}`
    return isNone(gap) ? t`none (${under})` : under
  }
  if (onlyOver(gap)) return t`over ${length(gap.wentMm ?? 0, unit)}`
  return lengthRange(gap.lowMm, gap.highMm, unit)
}

/** A gap as it was felt: what went and what did not. */
export function feltText(
  { wentMm, refusedMm }: NonNullable<Gap['felt']>,
  unit: LengthUnit,
): string {
  if (wentMm === null) return t`under ${length(refusedMm ?? 0, unit)}`
  if (refusedMm === null) return t`${length(wentMm, unit)} or more`
  return lengthRange(wentMm, refusedMm, unit)
}

/** The temperature of a visit, and the one that its figures are told at; °C, null where it is not noted. */
export type Temperatures = { at: number | null; reference: number | null }

/** The reference temperature where the manual states none. */
export const ASSUMED_REFERENCE_C = 20

/**
 * What the temperature did to a reading, where that decides something: as it was felt, what that is at the
 * manual's temperature, and whether the verdict rests on it. Null where it hardly matters.
 */
export function temperatureText(
  estimate: EstimateLike,
  { at, reference }: Temperatures,
  unit: LengthUnit,
): string | null {
  const gap = gapOf(estimate)
  if (!gap.felt || at === null) return null
  const named =
    reference === null
      ? t`${ASSUMED_REFERENCE_C} °C (assumed: the manual states none)`
      : t`the manual's ${reference} °C`
  const felt = feltText(gap.felt, unit)
  const known = gapText(gap, unit)
  const more = -estimate.correction_mm
  // Rounded alike they would tell nothing: then it is told by how much the temperature moves it.
  const there =
    felt === known
      ? more > 0
        ? t`${sdText(Math.abs(more), unit)} more`
        : t`${sdText(Math.abs(more), unit)} less`
      : known
  const told = t`measured ${felt} at ${at} °C; corrected to ${named}: ${there}`
  const before = estimate.verdict_as_read
  if (before === estimate.verdict || gap.contradiction) return told

  return t`${told}. The verdict depends on the temperature: uncorrected it would be ${VERDICT_WORDS[before ?? 'open']}`
}

/** The spoken label of a valve. */
export function spokenLabel(
  valve: { id: string; cylinder: number; side: string },
  gap: Gap | undefined,
  unit: LengthUnit,
  flag?: string,
): string {
  const name = t`cylinder ${valve.cylinder}, ${named(valve.side)}, valve ${valve.id}`
  if (flag !== undefined) return flag ? `${name}, ${flag}` : name
  if (!gap) return t`${name}, not measured`
  const known = gapText(gap, unit).replace(/ mm$/, t` millimetres`)
  return `${name}, ${VERDICT_WORDS[gap.verdict]}, ${known}${gap.contradiction ? t`, contradictory` : ''}`
}
