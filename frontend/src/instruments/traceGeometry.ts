import type { InstrumentKind } from '@/api/client'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import type { SampleRow } from './useLiveTrace'

export type TraceAxis = InstrumentKind['axis']

export const SIZE = { width: 620, height: 240 }
const PLOT = { left: 52, right: 608, top: 10, bottom: 208 }

/** The axis with one of several channels on it, counted from one; it grows with what comes. */
export function channelAxis(axis: TraceAxis, channel: number): TraceAxis {
  return axis.up.includes(channel)
    ? { ...axis, up: [channel] }
    : { ...axis, up: [channel], up_to: 10 }
}

/** The lines of a trace, broken where nothing came, and the ticks of its axes. */
export function traceGeometry(samples: SampleRow[], axis: TraceAxis) {
  const along = (row: SampleRow) => row[axis.along] ?? 0
  const shown = samples.flatMap((row) => axis.up.map((up) => row[up] ?? 0))
  const x = scaleLinear(
    [0, Math.max(axis.along_to, ...samples.map(along))],
    [PLOT.left, PLOT.right],
  )
  const y = scaleLinear(
    [Math.min(0, ...shown), Math.max(axis.up_to, ...shown)],
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
