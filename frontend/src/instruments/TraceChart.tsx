import { t } from '@lingui/core/macro'
import { SIZE, traceGeometry, type TraceAxis } from './traceGeometry'
import type { SampleRow } from './useLiveTrace'

/** A trace as it comes: drawn along time, or along the crank where the crank is turned. */
export function TraceChart({
  axis,
  samples,
  label,
  unit,
}: {
  axis: TraceAxis
  samples: SampleRow[]
  label: string
  unit: string
}) {
  const { plot, x, y, lines, xTicks, yTicks } = traceGeometry(samples, axis)
  const last = samples.at(-1)
  const shown = last && axis.up.map((up) => last[up]).filter((value) => value != null)
  return (
    <figure>
      <svg
        viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
        className="block h-auto w-full"
        role="img"
        aria-label={t`${label}, ${samples.length} samples, last ${shown?.join(t` and `) || t`nothing`} ${unit}`}
      >
        <g fontSize={12} fill="var(--color-ink-soft)">
          {yTicks.map((tick) => (
            <g key={tick}>
              <path
                d={`M${plot.left} ${y(tick)} H${plot.right}`}
                stroke="var(--color-rule)"
                strokeWidth={0.5}
              />
              <text x={plot.left - 6} y={y(tick)} dy="0.35em" textAnchor="end">
                {tick}
              </text>
            </g>
          ))}
          {xTicks.map((tick) => (
            <text key={tick} x={x(tick)} y={plot.bottom + 16} textAnchor="middle">
              {tick}
            </text>
          ))}
          <text x={plot.right} y={plot.bottom + 30} textAnchor="end">
            {axis.along === 0 ? t`seconds` : t`crank, degrees`}
          </text>
          <text x={plot.left + 4} y={plot.top + 10}>
            {unit}
          </text>
        </g>
        {lines.map((d, index) => (
          <path
            key={axis.up[index]}
            d={d}
            fill="none"
            stroke={index === 0 ? 'var(--color-accent)' : 'var(--color-ink-soft)'}
            strokeWidth={2}
            strokeDasharray={index === 0 ? undefined : '5 4'}
          />
        ))}
        <path
          d={`M${plot.left} ${plot.top} V${plot.bottom} H${plot.right}`}
          fill="none"
          stroke="var(--color-rule-strong)"
        />
      </svg>
    </figure>
  )
}
