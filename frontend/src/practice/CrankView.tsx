import type { PracticeRun } from '@/api/client'
import { motionAt, motionText, type MovingCylinder } from './motion'
import { useTurning } from './useTurning'

const WIDTH = 92
const HEIGHT = 128
const TOP = 46
const TRAVEL = 48

/** Each cylinder cut open: the piston, and the valves as their lobes press them, moving as the crank is turned. */
export function CrankView({ run, selected }: { run: PracticeRun; selected: string | undefined }) {
  const crank = useTurning(run.crank_deg)
  const cylinders = motionAt(run, crank)
  return (
    <svg
      viewBox={`0 0 ${WIDTH * cylinders.length} ${HEIGHT}`}
      className="mx-auto block h-auto max-h-40 w-full"
      role="img"
      aria-label={motionText(motionAt(run, run.crank_deg))}
    >
      {cylinders.map((one, index) => (
        <Cylinder key={one.cylinder} moving={one} x={index * WIDTH} selected={selected} />
      ))}
    </svg>
  )
}

function Cylinder({
  moving,
  x,
  selected,
}: {
  moving: MovingCylinder
  x: number
  selected: string | undefined
}) {
  const crown = TOP + 8 + (1 - moving.piston) * TRAVEL
  const step = 44 / Math.max(1, moving.valves.length)
  return (
    <g transform={`translate(${x} 0)`}>
      <path
        d={`M18 ${TOP} V${HEIGHT - 8} M74 ${TOP} V${HEIGHT - 8} M18 ${TOP} H74`}
        fill="none"
        stroke="var(--color-rule-strong)"
        strokeWidth={1.5}
      />
      <rect
        x={20}
        y={crown}
        width={52}
        height={18}
        fill="var(--color-accent-pale)"
        stroke="var(--color-ink-soft)"
      />
      <text x={46} y={crown + 14} textAnchor="middle" fontSize={13} fill="var(--color-ink)">
        {moving.cylinder}
      </text>
      {moving.valves.map((valve, index) => {
        const at = 24 + step * (index + 0.5)
        const down = valve.lift * 7
        const ink = valve.id === selected ? 'var(--color-accent)' : 'var(--color-ink-soft)'
        return (
          <g
            key={valve.id}
            stroke={ink}
            fill="none"
            strokeWidth={valve.id === selected ? 2.4 : 1.4}
          >
            <path d={`M${at} ${18 + down} V${TOP + down} M${at - 8} ${TOP + 1 + down} h16`} />
            <path d={`M${at - 9} ${17 + down * 1.0} h18`} />
            <text
              x={at}
              y={12}
              textAnchor="middle"
              fontSize={11}
              stroke="none"
              fill={valve.id === selected ? 'var(--color-accent)' : 'var(--color-ink-soft)'}
            >
              {valve.id}
            </text>
          </g>
        )
      })}
    </g>
  )
}
