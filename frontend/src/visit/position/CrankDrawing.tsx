import { t } from '@lingui/core/macro'
import type { CrankPlan } from '@/api/client'

const CENTRE = { x: 100, y: 92 }
const THROW = 60
const PLATE = 13
/** As close to a top as a crank is set by hand, degrees. */
const AT_TOP_DEG = 0.5

type Plate = { cylinder: number; x: number; y: number; compression: boolean }

function ownDeg(crankDeg: number, fires: number): number {
  return (((crankDeg - fires) % 720) + 720) % 720
}

/** A number plate for each piston on the circle of its throw; those that stand together stand side by side. */
function plates(plan: CrankPlan, crankDeg: number): Plate[] {
  const places = plan.firing.map(({ cylinder, crank_deg }) => {
    const own = ownDeg(crankDeg, crank_deg)
    return { cylinder, place: Math.round(own % 360), compression: own < AT_TOP_DEG }
  })
  return places.map(({ cylinder, place, compression }) => {
    const together = places.filter((one) => one.place === place).map((one) => one.cylinder)
    const aside = together.indexOf(cylinder) - (together.length - 1) / 2
    const angle = (place * Math.PI) / 180
    return {
      cylinder,
      compression,
      x: CENTRE.x + THROW * Math.sin(angle) + aside * (2 * PLATE + 3),
      y: CENTRE.y - THROW * Math.cos(angle),
    }
  })
}

/** The crank at a station: where each piston stands, the running way, who is at top on compression. */
export function CrankDrawing({ plan, crankDeg }: { plan: CrankPlan; crankDeg: number }) {
  if (plan.firing.length === 0) return null
  const drawn = plates(plan, crankDeg)
  const atTop = drawn.filter((plate) => plate.compression).map((plate) => plate.cylinder)
  const words =
    atTop.length > 0
      ? t`cylinder ${atTop.join(t` and `)} at TDC on compression`
      : t`no cylinder at TDC on compression`
  const { x, y } = CENTRE
  return (
    <svg
      viewBox="0 0 200 184"
      className="h-48 w-52 shrink-0"
      role="img"
      aria-label={t`Crank, turned clockwise: ${words}`}
    >
      <g fill="none" stroke="var(--color-rule-strong)">
        <circle cx={x} cy={y} r={THROW} strokeDasharray="3 4" />
        <path d={`M${x - 40} ${y - THROW - PLATE - 3} H${x + 40}`} strokeWidth={0.8} />
        <path d={`M${x + 22} ${y - 12} A25 25 0 0 1 ${x + 12} ${y + 22}`} strokeWidth={1.6} />
        <path
          d={`M${x + 20} ${y + 22} L${x + 11} ${y + 23} L${x + 14} ${y + 14}`}
          strokeWidth={1.6}
        />
      </g>
      <text x={x + 44} y={y - THROW - PLATE + 1} fontSize={12} fill="var(--color-ink-soft)">
        {t`top`}
      </text>
      {drawn.map((plate) => (
        <path
          key={plate.cylinder}
          d={`M${x} ${y} L${plate.x} ${plate.y}`}
          stroke={plate.compression ? 'var(--color-accent)' : 'var(--color-rule-strong)'}
          strokeWidth={plate.compression ? 3 : 1.2}
        />
      ))}
      <circle cx={x} cy={y} r={5} fill="var(--color-rule-strong)" />
      {drawn.map((plate) => (
        <g key={plate.cylinder}>
          <circle
            cx={plate.x}
            cy={plate.y}
            r={PLATE}
            fill={plate.compression ? 'var(--color-accent)' : 'var(--color-sheet)'}
            stroke={plate.compression ? 'var(--color-accent)' : 'var(--color-rule-strong)'}
          />
          <text
            x={plate.x}
            y={plate.y}
            dy="0.36em"
            textAnchor="middle"
            fontSize={15}
            fontWeight={650}
            fill={plate.compression ? 'var(--color-on-accent)' : 'var(--color-ink)'}
          >
            {plate.cylinder}
          </text>
        </g>
      ))}
    </svg>
  )
}
