import { t } from '@lingui/core/macro'
import type { ValveAnalysis } from '@/api/client'
import { day, usage, type LengthUnit } from '@/design/format'
import { VERDICT_COLOUR } from '@/design/shapes'
import { gapOf, gapText } from '@/head-plan/gap'
import type { Bracket, Chart } from './chartGeometry'
import { named } from '@/design/names'

/** What stands on a valve's chart, small or large: spec, fan, settings, readings, where it leaves its spec. */
export function ChartMarks({
  chart,
  valve,
  unit,
  usageUnit,
  small = false,
}: {
  chart: Chart
  valve: ValveAnalysis
  unit: LengthUnit
  usageUnit: string
  small?: boolean
}) {
  const { plot, y } = chart
  return (
    <>
      {valve.spec && (
        <>
          <rect
            x={plot.left}
            width={plot.right - plot.left}
            y={y(valve.spec.max_mm)}
            height={y(valve.spec.min_mm) - y(valve.spec.max_mm)}
            fill="var(--color-spec-band)"
          />
          {!small && (
            <text
              x={plot.right - 6}
              y={y(valve.spec.max_mm) - 4}
              textAnchor="end"
              fontSize={12}
              fill="var(--color-in)"
            >
              {t`spec`}
            </text>
          )}
        </>
      )}
      <Fan chart={chart} />
      {chart.crossing && (
        <g transform={`translate(${chart.crossing.x} ${chart.crossing.y})`}>
          <title>{t`50 % chance of being out of spec at ${usage(chart.crossing.usage, usageUnit)}`}</title>
          <path d="M0 -7 L6 0 L0 7 L-6 0 Z" fill="var(--color-accent)" />
        </g>
      )}
      {chart.eras.map((era) => (
        <g key={era.key}>
          <title>{t`${era.word} at visit ${era.key}: the drift begins anew`}</title>
          <path
            d={`M${era.x} ${plot.top} V${plot.bottom}`}
            stroke="var(--color-ink)"
            strokeWidth={1}
          />
          {!small && (
            <text
              x={era.x}
              y={plot.top - 6}
              textAnchor="middle"
              fontSize={12}
              fill="var(--color-ink)"
            >
              {era.word}
            </text>
          )}
        </g>
      ))}
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
      {chart.truth && (
        <path
          d={chart.truth}
          fill="none"
          stroke="var(--color-ink)"
          strokeWidth={1}
          strokeDasharray="6 3"
        >
          <title>{t`simulated truth of the demonstration`}</title>
        </path>
      )}
    </>
  )
}

function Fan({ chart }: { chart: Chart }) {
  if (!chart.fan) return null
  return (
    <g>
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
  const { x, low, high, mean, felt, state, kind } = bracket
  const estimate = state[kind]
  if (!estimate) return null
  const gap = gapOf(estimate)
  const colour = VERDICT_COLOUR[gap.verdict]
  return (
    <g stroke={colour} strokeWidth={1.6} fill="none">
      <title>
        {t`${state.visit}, ${day(state.date)}, ${usage(state.usage, usageUnit)}, as ${named(kind)}: ${named(gap.verdict)}, ${gapText(gap, unit)}`}
      </title>
      {felt && (
        <path d={`M${x + 3} ${felt.low} V${felt.high}`} strokeDasharray="2 2" opacity={0.5} />
      )}
      <path
        d={`M${x} ${low} V${high}${bracket.footLow ? ` M${x - 4} ${low} h8` : ''}${bracket.footHigh ? ` M${x - 4} ${high} h8` : ''}`}
      />
      {/* Where only a bound is known there is no estimate to mark. */}
      {gap.isNumber && (
        <circle cx={x} cy={mean} r={3.4} fill={kind === 'left' ? colour : 'var(--color-sheet)'} />
      )}
    </g>
  )
}
