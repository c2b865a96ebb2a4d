import { useMemo } from 'react'
import type { ValveAnalysis } from '@/api/client'
import { day, lengthFigure, usage, type LengthUnit } from '@/design/format'
import { VERDICT_COLOUR } from '@/design/shapes'
import { gapOf, gapText } from '@/head-plan/gap'
import { chartGeometry, type Bracket, type Chart } from './chartGeometry'

const SIZE = { width: 600, height: 330 }

/** One valve along its usage: readings as upright brackets, settings as steps, the line ahead as a fan. */
export function HistoryChart({
  valve,
  usageUnit,
  unit,
}: {
  valve: ValveAnalysis
  usageUnit: string
  unit: LengthUnit
}) {
  const chart = useMemo(() => chartGeometry(valve, SIZE), [valve])
  const { plot, x, y } = chart
  return (
    <svg
      viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
      className="block h-auto w-full"
      role="img"
      aria-label={`Clearance of ${valve.valve} along its usage; the figures are in the table below`}
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
            <text x={x(tick)} y={plot.bottom + 18} textAnchor="middle">
              {tick}
            </text>
          </g>
        ))}
        <text x={plot.right} y={plot.bottom + 34} textAnchor="end">
          running total, {usageUnit}
        </text>
        <text x={plot.left - 6} y={12} textAnchor="end">
          {unit}
        </text>
      </g>
      {valve.spec && (
        <>
          <rect
            x={plot.left}
            width={plot.right - plot.left}
            y={y(valve.spec.max_mm)}
            height={y(valve.spec.min_mm) - y(valve.spec.max_mm)}
            fill="var(--color-spec-band)"
          />
          <text
            x={plot.right - 6}
            y={y(valve.spec.max_mm) - 4}
            textAnchor="end"
            fontSize={12}
            fill="var(--color-in)"
          >
            spec
          </text>
        </>
      )}
      <Fan chart={chart} />
      {chart.crossing && (
        <g transform={`translate(${chart.crossing.x} ${chart.crossing.y})`}>
          <title>{`even odds of being out of spec at ${usage(chart.crossing.usage, usageUnit)}`}</title>
          <path d="M0 -7 L6 0 L0 7 L-6 0 Z" fill="var(--color-accent)" />
        </g>
      )}
      {chart.settings.map((step) => (
        <path
          key={step.key}
          d={`M${step.x} ${step.from} V${step.to}`}
          stroke="var(--color-ink-soft)"
          strokeDasharray="2 3"
        />
      ))}
      {chart.brackets.map((bracket) => (
        <Reading key={bracket.key} bracket={bracket} unit={unit} usageUnit={usageUnit} />
      ))}
      <path
        d={`M${plot.left} ${plot.top} V${plot.bottom} H${plot.right}`}
        fill="none"
        stroke="var(--color-rule-strong)"
      />
    </svg>
  )
}

function Fan({ chart }: { chart: Chart }) {
  if (!chart.fan) return null
  const { left, right, top, bottom } = chart.plot
  return (
    <g clipPath="url(#plot-area)">
      <clipPath id="plot-area">
        <rect x={left} y={top} width={right - left} height={bottom - top} />
      </clipPath>
      <path d={chart.fan.outer} fill="var(--color-accent)" opacity={0.13} />
      <path d={chart.fan.inner} fill="var(--color-accent)" opacity={0.2} />
      <path d={chart.fan.middle} fill="none" stroke="var(--color-accent)" strokeWidth={1.2} />
      {chart.now !== null && (
        <path
          d={`M${chart.now} ${chart.plot.top} V${chart.plot.bottom}`}
          stroke="var(--color-accent)"
          strokeWidth={0.8}
          strokeDasharray="1 4"
        />
      )}
    </g>
  )
}

function Reading({
  bracket,
  unit,
  usageUnit,
}: {
  bracket: Bracket
  unit: LengthUnit
  usageUnit: string
}) {
  const { x, low, high, mean, state, kind } = bracket
  const estimate = state[kind]
  if (!estimate) return null
  const colour = VERDICT_COLOUR[estimate.verdict]
  return (
    <g stroke={colour} strokeWidth={1.6} fill="none">
      <title>
        {`${state.visit}, ${day(state.date)}, ${usage(state.usage, usageUnit)}, as ${kind}: ${estimate.verdict}, ${gapText(gapOf(estimate), unit)}`}
      </title>
      <path
        d={`M${x} ${low} V${high}${bracket.footLow ? ` M${x - 4} ${low} h8` : ''}${bracket.footHigh ? ` M${x - 4} ${high} h8` : ''}`}
      />
      <circle cx={x} cy={mean} r={3.4} fill={kind === 'left' ? colour : 'var(--color-sheet)'} />
    </g>
  )
}
