import { chance, length, lengthFigure, lengthRange, type LengthUnit } from '@/design/format'
import type { VerdictWord } from '@/design/shapes'

/** What a gap window shows of one valve. */
export type Gap = {
  verdict: VerdictWord
  leaning: 'tight' | 'in' | 'loose'
  probability: number
  meanMm: number
  lowMm: number
  highMm: number
  wentMm: number | null
  refusedMm: number | null
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
}

export function gapOf(estimate: EstimateLike): Gap {
  return {
    verdict: estimate.verdict,
    leaning: estimate.leaning,
    probability: { tight: estimate.p_tight, in: estimate.p_in, loose: estimate.p_loose }[
      estimate.leaning
    ],
    meanMm: estimate.mean_mm,
    lowMm: estimate.q05_mm,
    highMm: estimate.q95_mm,
    wentMm: estimate.bracket.went_mm,
    refusedMm: estimate.bracket.refused_mm,
    contradiction: estimate.contradiction,
  }
}

/** Whether nothing went in: all that is known is 'less than that'. */
export function onlyUnder(gap: Gap): boolean {
  return gap.wentMm === null && gap.refusedMm !== null
}

/** Whether no gap is left as far as can be told; shown as a word, never as a negative number. */
export function isNone(gap: Gap): boolean {
  return onlyUnder(gap) && gap.meanMm <= 0
}

/** The figure under a window. */
export function gapFigure(gap: Gap, unit: LengthUnit): string {
  if (isNone(gap)) return 'none'
  if (onlyUnder(gap)) return `<${lengthFigure(gap.refusedMm ?? 0, unit)}`
  return lengthFigure(Math.max(gap.meanMm, 0), unit)
}

/** The verdict in words with the figure behind it: 'open, likely in, 75 %'. */
export function verdictText(gap: Gap): string {
  const figure = chance(gap.probability)
  return gap.verdict === 'open'
    ? `open, leaning ${gap.leaning}: ${figure}`
    : `${gap.verdict}: ${figure}`
}

/** What is known of the clearance, in words. */
export function gapText(gap: Gap, unit: LengthUnit): string {
  if (onlyUnder(gap)) {
    const under = `under ${length(gap.refusedMm ?? 0, unit)}`
    return isNone(gap) ? `none (${under})` : under
  }
  return lengthRange(gap.lowMm, gap.highMm, unit)
}

/** The spoken label of a valve. */
export function spokenLabel(
  valve: { id: string; cylinder: number; side: string },
  gap: Gap | undefined,
  unit: LengthUnit,
  flag?: string,
): string {
  const name = `cylinder ${valve.cylinder}, ${valve.side}, valve ${valve.id}`
  if (flag !== undefined) return flag ? `${name}, ${flag}` : name
  if (!gap) return `${name}, not measured`
  const known = gapText(gap, unit).replace(/ mm$/, ' millimetres')
  return `${name}, ${gap.verdict}, ${known}${gap.contradiction ? ', contradicts itself' : ''}`
}
