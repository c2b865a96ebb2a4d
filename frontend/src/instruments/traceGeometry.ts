import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import type { SampleRow } from './useLiveTrace'

export type TraceAxis = {
  /** Which column of a sample runs along: 0 is the time. */
  along: number
  /** Which columns are drawn. */
  up: number[]
  /** What the axes reach to at least, so that a trace grows into its frame. */
  alongTo: number
  upTo: number
}

export const SIZE = { width: 620, height: 240 }
const PLOT = { left: 52, right: 608, top: 10, bottom: 208 }

const AXES: Record<string, TraceAxis> = {
  'dial-clearance': { along: 0, up: [1], alongTo: 3, upTo: 0.4 },
  'dial-lift': { along: 1, up: [2], alongTo: 720, upTo: 8 },
  compression: { along: 0, up: [2], alongTo: 4.8, upTo: 1200 },
  leakdown: { along: 0, up: [1], alongTo: 4, upTo: 100 },
  thermometer: { along: 0, up: [1, 2], alongTo: 5, upTo: 40 },
  reader: { along: 0, up: [1], alongTo: 20, upTo: 1000 },
}

/** How a kind of instrument is drawn; `channel` picks one of several, counted from one. */
export function axisOf(kind: string, channel?: number): TraceAxis {
  const axis = AXES[kind] ?? { along: 0, up: [1], alongTo: 1, upTo: 1 }
  return channel === undefined ? axis : { ...axis, up: [channel], upTo: channel === 1 ? 1000 : 10 }
}

/** The lines of a trace, broken where nothing came, and the ticks of its axes. */
export function traceGeometry(samples: SampleRow[], axis: TraceAxis) {
  const along = (row: SampleRow) => row[axis.along] ?? 0
  const shown = samples.flatMap((row) => axis.up.map((up) => row[up] ?? 0))
  const x = scaleLinear([0, Math.max(axis.alongTo, ...samples.map(along))], [PLOT.left, PLOT.right])
  const y = scaleLinear(
    [Math.min(0, ...shown), Math.max(axis.upTo, ...shown)],
    [PLOT.bottom, PLOT.top],
  ).nice(4)
  const lines = axis.up.map(
    (up) =>
      line<SampleRow>()
        .defined((row) => row[up] != null)
        .x((row) => x(along(row)))
        .y((row) => y(row[up] ?? 0))(samples) ?? '',
  )
  return { plot: PLOT, x, y, lines, xTicks: x.ticks(6), yTicks: y.ticks(4) }
}
