import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMemo } from 'react'
import type { ValveAnalysis } from '@/api/client'
import { lengthFigure, usageFigure, type LengthUnit } from '@/design/format'
import { chartGeometry, type Truth } from './chartGeometry'
import { ChartMarks } from './ChartMarks'

const SIZE = { width: 600, height: 330 }
/** Half of what the longest figure of an axis takes. */
const LABEL_HALF = 20

/** One valve along its usage: readings as upright brackets, settings as steps, the line ahead as a fan. */
export function HistoryChart({
  valve,
  usageUnit,
  unit,
  truth,
}: {
  valve: ValveAnalysis
  usageUnit: string
  unit: LengthUnit
  truth?: Truth
}) {
  const chart = useMemo(() => chartGeometry(valve, SIZE, { truth }), [valve, truth])
  const { plot, x, y } = chart
  return (
    <svg
      viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
      className="block h-auto w-full"
      role="img"
      aria-label={t`Clearance of ${valve.valve} over usage; the figures are in the table below`}
    >
      <g fontSize={12} fill="var(--color-ink-soft)">
        {chart.yTicks.map((tick) => (
          <g key={tick}>
            <path
              d={`M${plot.left} ${y(tick)} H${plot.right}`}
              stroke="var(--color-rule)"
              strokeWidth={0.5}
            />
            <text x={plot.left - 6} y={y(tick)} dy="0.35em" textAnchor="end">
              {lengthFigure(tick, unit)}
            </text>
          </g>
        ))}
        {chart.xTicks.map((tick) => (
          <g key={tick}>
            <path d={`M${x(tick)} ${plot.bottom} v5`} stroke="var(--color-rule-strong)" />
            {/* A long figure at the end of the axis stays within the picture. */}
            <text
              x={x(tick)}
              y={plot.bottom + 18}
              textAnchor={x(tick) > plot.right - LABEL_HALF ? 'end' : 'middle'}
            >
              {usageFigure(tick)}
            </text>
          </g>
        ))}
        <text x={plot.right} y={plot.bottom + 34} textAnchor="end">
          <Trans>running total, {usageUnit}</Trans>
        </text>
        <text x={plot.left - 6} y={12} textAnchor="end">
          {unit}
        </text>
      </g>
      <ChartMarks chart={chart} valve={valve} unit={unit} usageUnit={usageUnit} />
      <path
        d={`M${plot.left} ${plot.top} V${plot.bottom} H${plot.right}`}
        fill="none"
        stroke="var(--color-rule-strong)"
      />
    </svg>
  )
}
