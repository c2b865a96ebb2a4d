import { t } from '@lingui/core/macro'
import { VERDICT_WORDS } from '@/design/shapes'
import { useMemo } from 'react'
import type { Estimate, ValveAnalysis } from '@/api/client'
import { lengthFigure, movement, usageFigure, type LengthUnit } from '@/design/format'
import { VerdictMark } from '@/design/shapes'
import { gapOf } from '@/head-plan/gap'
import { chartGeometry, type Scales, type Truth } from './chartGeometry'
import { ChartMarks } from './ChartMarks'
import { named } from '@/design/names'

const MARGINS = { left: 34, right: 6, top: 6, bottom: 20 }

/** One valve small, on the scales that all valves of the sheet share. */
export function SmallChart({
  valve,
  scales,
  width,
  usageUnit,
  unit,
  truth,
}: {
  valve: ValveAnalysis
  scales: Scales
  width: number
  usageUnit: string
  unit: LengthUnit
  truth?: Truth
}) {
  const size = useMemo(() => ({ width, height: 176 }), [width])
  const chart = useMemo(
    () => chartGeometry(valve, size, { scales, margins: MARGINS, truth }),
    [valve, size, scales, truth],
  )
  const { plot, x, y } = chart
  const ends = [chart.xTicks[0], chart.xTicks.at(-1)].filter((tick) => tick !== undefined)
  const limits = valve.spec ? [valve.spec.min_mm, valve.spec.max_mm] : []
  return (
    <>
      <span className="flex items-center gap-x-2 overflow-hidden text-left max-md:flex-wrap">
        <strong>{valve.valve}</strong>
        <VerdictMark
          verdict={valve.standing ? gapOf(valve.standing).verdict : 'blank'}
          word={valve.standing ? standingWord(valve.standing) : t`not measured`}
        />
      </span>
      <span className="block min-h-5 text-left text-sm text-ink-soft">
        {valve.drift
          ? `${named(valve.drift.trend)}, ${movement(valve.drift.mean_mm_per_interval, unit)}`
          : t`no forecast`}
      </span>
      <svg viewBox={`0 0 ${size.width} ${size.height}`} className="block w-full" aria-hidden="true">
        <ChartMarks chart={chart} valve={valve} unit={unit} usageUnit={usageUnit} small />
        <path
          d={`M${plot.left} ${plot.top} V${plot.bottom} H${plot.right}`}
          fill="none"
          stroke="var(--color-rule-strong)"
        />
        <g fontSize={12} fill="var(--color-ink-soft)">
          {limits.map((mm) => (
            <text key={mm} x={plot.left - 4} y={y(mm)} dy="0.35em" textAnchor="end">
              {lengthFigure(mm, unit)}
            </text>
          ))}
          {ends.map((tick, index) => (
            <text
              key={tick}
              x={x(tick)}
              y={plot.bottom + 15}
              textAnchor={index === 0 ? 'start' : 'end'}
            >
              {usageFigure(tick)}
            </text>
          ))}
        </g>
      </svg>
    </>
  )
}

function standingWord({ verdict, leaning, contradiction }: Estimate): string {
  if (contradiction) return t`contradictory`
  return verdict === 'open'
    ? t`inconclusive, probably ${VERDICT_WORDS[leaning]}`
    : VERDICT_WORDS[verdict]
}
