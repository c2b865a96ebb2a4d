import { t } from '@lingui/core/macro'
import type { ForecastTally } from '@/api/client'

const WIDTH = 440
const HEIGHT = 120
const BAR = WIDTH / 10
const TOP = 14

/** Where in its forecast each reading fell: right forecasts fill the ten bands alike. */
export function Tenths({ tally: { tenths, count } }: { tally: ForecastTally }) {
  const even = count / 10
  const most = Math.max(...tenths, even * 1.5)
  const heightOf = (value: number) => ((HEIGHT - TOP) * value) / most
  const words = tenths.map((value, index) => t`${index * 10} to ${index * 10 + 10} %: ${value}`)
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT + 18}`}
        role="img"
        aria-label={t`Readings by where they fell in their forecast. ${words.join('; ')}`}
        className="w-full"
      >
        <line
          x1={0}
          x2={WIDTH}
          y1={HEIGHT - heightOf(even)}
          y2={HEIGHT - heightOf(even)}
          strokeDasharray="4 3"
          className="stroke-ink"
        />
        {tenths.map((value, index) => (
          <g key={index}>
            <rect
              x={index * BAR + 3}
              width={BAR - 6}
              y={HEIGHT - heightOf(value)}
              height={heightOf(value)}
              className="fill-accent/30 stroke-accent"
            />
            <text
              x={(index + 0.5) * BAR}
              y={HEIGHT - heightOf(value) - 3}
              textAnchor="middle"
              className="fill-ink text-[11px]"
            >
              {value}
            </text>
          </g>
        ))}
        <line x1={0} x2={WIDTH} y1={HEIGHT} y2={HEIGHT} className="stroke-ink" />
        <text x={0} y={HEIGHT + 14} className="fill-ink-soft text-[11px]">
          {t`tighter than forecast`}
        </text>
        <text x={WIDTH} y={HEIGHT + 14} textAnchor="end" className="fill-ink-soft text-[11px]">
          {t`looser than forecast`}
        </text>
      </svg>
      <figcaption className="text-sm text-ink-soft">
        {t`Where in its forecast each reading fell, in ten bands of equal probability; dashed: what right forecasts would give.`}
      </figcaption>
    </figure>
  )
}
