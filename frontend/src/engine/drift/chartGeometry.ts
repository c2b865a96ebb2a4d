import { t } from '@lingui/core/macro'
import { scaleLinear, type ScaleLinear } from 'd3-scale'
import { area, line } from 'd3-shape'
import type { Estimate, StateAtVisit, ValveAnalysis } from '@/api/client'
import { gapOf } from '@/head-plan/gap'

/** Geometry of one valve's history: pure, so that the chart only draws. */

export type Size = { width: number; height: number }
export type Margins = { left: number; right: number; top: number; bottom: number }
export type Scales = { x: [number, number]; y: [number, number] }
/** What a simulation really had: the clearance as found and as left at each usage. */
export type Truth = { usage: number; found_mm: number; left_mm: number }[]
export type Bracket = {
  key: string
  kind: 'found' | 'left'
  x: number
  mean: number
  low: number
  high: number
  footLow: boolean
  footHigh: boolean
  /** As it was felt, before the temperature is allowed for; null where that hardly matters. */
  felt: { low: number; high: number } | null
  state: StateAtVisit
}
export type SettingStep = { key: string; x: number; from: number; to: number }
export type Chart = {
  x: ScaleLinear<number, number>
  y: ScaleLinear<number, number>
  plot: { left: number; right: number; top: number; bottom: number }
  brackets: Bracket[]
  settings: SettingStep[]
  /** Where the drift began anew: work on the head, or parts of this valve changed. */
  eras: { key: string; x: number; word: string }[]
  fan: { outer: string; inner: string; middle: string } | null
  xTicks: number[]
  yTicks: number[]
  now: number | null
  /** Where in and out of spec are even odds, on the limit that it runs to. */
  crossing: { x: number; y: number; usage: number } | null
  truth: string | null
}

const Z90 = 1.6449
const Z50 = 0.6745

const MARGINS: Margins = { left: 46, right: 14, top: 24, bottom: 40 }

/** The scales that hold all of some valves, so that their charts can be laid side by side. */
export function scalesOf(valves: ValveAnalysis[]): Scales {
  const usages = valves.flatMap((valve) => [
    ...valve.history.map((state) => state.usage),
    ...(valve.forecast ?? []).map((point) => point.usage),
  ])
  const extents = valves.map(extentOf)
  return {
    x: [Math.min(...usages, Infinity), Math.max(...usages, 1)],
    y: [Math.min(...extents.map(([low]) => low)), Math.max(...extents.map(([, high]) => high))],
  }
}

function extentOfReading(estimate: Estimate): number[] {
  const { wentMm, refusedMm, felt } = gapOf(estimate)
  const ends = [wentMm, refusedMm ?? estimate.q95_mm, felt?.wentMm, felt?.refusedMm]
  return [...ends.filter((mm) => mm != null), ...(wentMm === null ? [0] : [])]
}

function extentOf(valve: ValveAnalysis): [number, number] {
  const figures = valve.history.flatMap((state) =>
    [state.found, state.left].flatMap((one) => (one ? extentOfReading(one) : [])),
  )
  const spec = valve.spec ? [valve.spec.min_mm, valve.spec.max_mm] : []
  const fan = (valve.forecast ?? []).flatMap(({ mean_mm, sd_mm }) => [
    mean_mm - Z90 * sd_mm,
    mean_mm + Z90 * sd_mm,
  ])
  const low = Math.min(...figures, ...spec, ...fan, Infinity)
  const high = Math.max(...figures, ...spec, ...fan, 0.1)
  const pad = Math.max(0.02, (high - low) * 0.12)
  // A clearance cannot be less than none, so the scale ends there.
  return [Math.max(0, (Number.isFinite(low) ? low : 0) - pad), high + pad]
}

function bracketOf(
  state: StateAtVisit,
  kind: 'found' | 'left',
  x: number,
  y: (mm: number) => number,
): Bracket | null {
  const estimate = state[kind]
  if (!estimate) return null
  const gap = gapOf(estimate)
  const between = ({ wentMm, refusedMm }: { wentMm: number | null; refusedMm: number | null }) => ({
    low: y(wentMm ?? 0),
    high: y(refusedMm ?? estimate.q95_mm),
  })
  return {
    key: `${state.visit} ${kind}`,
    kind,
    x,
    mean: y(Math.max(estimate.mean_mm, 0)),
    ...between(gap),
    footLow: gap.wentMm !== null,
    footHigh: gap.refusedMm !== null,
    felt: gap.felt && between(gap.felt),
    state,
  }
}

/** The side on which it is first as likely out as in, and the usage; null: not in the forecast. */
export function medianCrossing(
  valve: ValveAnalysis,
): { side: 'tight' | 'loose'; usage: number } | null {
  const sides = (['tight', 'loose'] as const).flatMap((side) => {
    const usage = valve.crossing?.[side]?.q50
    return usage == null ? [] : [{ side, usage }]
  })
  return sides.sort((a, b) => a.usage - b.usage)[0] ?? null
}

function crossingOf(
  valve: ValveAnalysis,
  x: ScaleLinear<number, number>,
  y: ScaleLinear<number, number>,
): Chart['crossing'] {
  const even = medianCrossing(valve)
  const last = valve.history.at(-1)?.usage
  if (!even || last === undefined || even.usage <= last || !valve.spec) return null
  const inPicture = even.usage <= (x.domain()[1] ?? 0)
  const limit = even.side === 'tight' ? valve.spec.min_mm : valve.spec.max_mm
  return inPicture ? { x: x(even.usage), y: y(limit), usage: even.usage } : null
}

/** The true clearance from visit to visit, with a step where it was set. */
function truthOf(
  truth: Truth,
  x: ScaleLinear<number, number>,
  y: ScaleLinear<number, number>,
): string {
  const points = truth.flatMap((one) => [
    [x(one.usage), y(one.found_mm)],
    [x(one.usage), y(one.left_mm)],
  ])
  return points.map(([px, py], at) => `${at === 0 ? 'M' : 'L'}${px} ${py}`).join(' ')
}

export function chartGeometry(
  valve: ValveAnalysis,
  { width, height }: Size,
  {
    scales = scalesOf([valve]),
    margins = MARGINS,
    truth,
  }: { scales?: Scales; margins?: Margins; truth?: Truth } = {},
): Chart {
  const plot = {
    left: margins.left,
    right: width - margins.right,
    top: margins.top,
    bottom: height - margins.bottom,
  }
  const ahead = valve.forecast ?? []
  const x = scaleLinear().domain(scales.x).nice().range([plot.left, plot.right])
  const y = scaleLinear().domain(scales.y).nice().range([plot.bottom, plot.top])

  const brackets: Bracket[] = []
  const settings: SettingStep[] = []
  for (const state of valve.history) {
    const at = x(state.usage)
    const found = bracketOf(state, 'found', at - (state.left ? 4 : 0), y)
    const left = bracketOf(state, 'left', at + 4, y)
    if (found) brackets.push(found)
    if (left) brackets.push(left)
    const target = state.settings.at(-1)?.target_mm
    const to = left?.mean ?? (target == null ? null : y(target))
    if (found && to !== null && state.settings.length > 0) {
      settings.push({ key: state.visit, x: at, from: found.mean, to })
    }
  }

  // A clearance cannot be less than none: there the fan ends.
  const yFrom = (mm: number) => y(Math.max(mm, 0))
  const band = (z: number) =>
    area<(typeof ahead)[number]>()
      .x((point) => x(point.usage))
      .y0((point) => yFrom(point.mean_mm - z * point.sd_mm))
      .y1((point) => yFrom(point.mean_mm + z * point.sd_mm))(ahead) ?? ''
  const middle =
    line<(typeof ahead)[number]>()
      .x((point) => x(point.usage))
      .y((point) => yFrom(point.mean_mm))(ahead) ?? ''
  const last = valve.history.at(-1)
  const eras = valve.history
    .filter((state) => state.head_work || state.renewed)
    .map((state) => ({
      key: state.visit,
      x: x(state.usage),
      word: state.head_work ? t`head off` : t`parts changed`,
    }))
  return {
    x,
    y,
    plot,
    brackets,
    settings,
    eras,
    fan: ahead.length > 1 ? { outer: band(Z90), inner: band(Z50), middle } : null,
    xTicks: x.ticks(5),
    yTicks: y.ticks(6),
    now: last ? x(last.usage) : null,
    crossing: crossingOf(valve, x, y),
    truth: truth ? truthOf(truth, x, y) : null,
  }
}
