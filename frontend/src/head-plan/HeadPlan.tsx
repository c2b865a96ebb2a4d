import { t } from '@lingui/core/macro'
import { useMemo, useRef, type KeyboardEvent } from 'react'
import type { LengthUnit } from '@/design/format'
import { spokenLabel, type Gap, type SpecRange } from './gap'
import { GapWindow } from './GapWindow'
import {
  neighbour,
  planGeometry,
  type Direction,
  type PlacedValve,
  type PlanGeometry,
  type PlanLayout,
  type PlanValve,
} from './planGeometry'

const ARROWS: Record<string, Direction> = {
  ArrowLeft: 'left',
  ArrowRight: 'right',
  ArrowUp: 'up',
  ArrowDown: 'down',
}

export type HeadPlanProps = {
  valves: PlanValve[]
  layout?: PlanLayout | null
  specs: Record<string, SpecRange | null>
  gaps: Record<string, Gap | undefined>
  unit: LengthUnit
  selected?: string
  /** A word at each valve in place of its figure, where the plan shows something else than readings. */
  flags?: Record<string, string>
  /** Valves that something points to; the others pale. */
  marked?: ReadonlySet<string>
  /** Valves with a photograph: their corner is turned down. */
  photographed?: ReadonlySet<string>
  onSelect?: (valve: string) => void
  /** Classes that bound its height on the page. */
  className?: string
  label: string
}

/** The plan of the head: the same component, the same places, in every view. */
export function HeadPlan(props: HeadPlanProps) {
  const { valves, layout, selected, onSelect, className = '', label } = props
  const geometry = useMemo(() => planGeometry(valves, layout ?? {}), [valves, layout])
  const svg = useRef<SVGSVGElement>(null)

  function onKeyDown(event: KeyboardEvent<SVGGElement>, valve: PlacedValve) {
    const direction = ARROWS[event.key]
    if (direction) {
      const next = neighbour(geometry.valves, valve.id, direction)
      if (next) {
        svg.current?.querySelector<SVGGElement>(`[data-valve="${CSS.escape(next)}"]`)?.focus()
        onSelect?.(next)
      }
    } else if (event.key === ' ' || event.key === 'Enter') {
      onSelect?.(valve.id)
      // Enter goes on to mean 'next valve' where a page says so; on another valve it picks that one.
      if (event.key === 'Enter' && valve.id === selected) return
    } else {
      return
    }
    event.preventDefault()
    event.stopPropagation()
  }

  const entry = selected ?? geometry.valves[0]?.id
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${geometry.width} ${geometry.height}`}
      className={`mx-auto block h-auto w-full ${className}`}
      style={{ maxWidth: geometry.width * 1.25 }}
      role="group"
      aria-label={label}
    >
      <Drawing geometry={geometry} />
      {geometry.valves.map((valve) => (
        <g
          key={valve.id}
          data-valve={valve.id}
          className="plan-valve"
          role="button"
          tabIndex={valve.id === entry ? 0 : -1}
          aria-label={
            spokenLabel(valve, props.gaps[valve.id], props.unit, props.flags?.[valve.id]) +
            (props.photographed?.has(valve.id) ? t`, with a photo` : '')
          }
          aria-pressed={valve.id === selected}
          transform={`translate(${valve.x} ${valve.y})`}
          opacity={props.marked && !props.marked.has(valve.id) ? 0.5 : 1}
          onClick={() => onSelect?.(valve.id)}
          onKeyDown={(event) => onKeyDown(event, valve)}
        >
          <ValveCell
            valve={valve}
            geometry={geometry}
            spec={props.specs[valve.id] ?? null}
            gap={props.gaps[valve.id]}
            flag={props.flags?.[valve.id]}
            unit={props.unit}
            selected={valve.id === selected}
            photographed={props.photographed?.has(valve.id) ?? false}
          />
        </g>
      ))}
    </svg>
  )
}

function ValveCell({
  valve,
  geometry,
  spec,
  gap,
  flag,
  unit,
  selected,
  photographed,
}: {
  valve: PlacedValve
  geometry: PlanGeometry
  spec: SpecRange | null
  gap: Gap | undefined
  flag: string | undefined
  unit: LengthUnit
  selected: boolean
  photographed: boolean
}) {
  const { width, height, window, windowWidth, figure } = geometry.cell
  return (
    <>
      <rect
        className="focus-ring"
        x={-width / 2 + 2}
        y={-height / 2 + 1}
        width={width - 4}
        height={height - 2}
        rx={3}
      />
      {selected && (
        <rect
          x={-width / 2 + 2}
          y={-height / 2 + 1}
          width={width - 4}
          height={height - 2}
          rx={3}
          fill="var(--color-accent-pale)"
          stroke="var(--color-accent)"
        />
      )}
      {photographed && (
        <path
          d={`M${width / 2 - 12} ${-height / 2 + 1} h10 v10 z`}
          fill="var(--color-accent)"
          stroke="none"
        />
      )}
      <text
        y={-height / 2 + 17}
        textAnchor="middle"
        fontSize={15}
        fontWeight={700}
        fill={selected ? 'var(--color-accent)' : 'var(--color-ink)'}
      >
        {valve.id}
      </text>
      <g transform={`translate(0 ${-height / 2 + 24 + window / 2})`}>
        <GapWindow
          spec={spec}
          gap={gap}
          flag={flag}
          height={window}
          width={windowWidth}
          figure={figure}
          unit={unit}
        />
      </g>
    </>
  )
}

/** What does not change with the readings: bores, centre lines, the front, the names of the rows. */
function Drawing({ geometry }: { geometry: PlanGeometry }) {
  const { boreRadius, front } = geometry
  const tip = front.pointing === 'left' ? -1 : 1
  return (
    <g aria-hidden="true" fill="none" stroke="var(--color-rule-strong)">
      {geometry.centreLines.map((line) => (
        <path
          key={line.y}
          d={`M${line.from} ${line.y} H${line.to}`}
          strokeDasharray="16 4 3 4"
          strokeWidth={0.8}
        />
      ))}
      {geometry.cylinders.map(({ cylinder, x, y }) => (
        <g key={cylinder} transform={`translate(${x} ${y})`}>
          <circle r={boreRadius} fill="var(--color-paper)" strokeWidth={1.4} />
          <path d={`M0 ${-boreRadius - 5} V${boreRadius + 5}`} strokeWidth={0.6} />
          <circle r={11} fill="var(--color-paper)" stroke="none" />
          <text textAnchor="middle" dy="0.36em" fontSize={17} fill="var(--color-ink)" stroke="none">
            {cylinder}
          </text>
        </g>
      ))}
      <g fill="var(--color-ink-soft)" stroke="none" fontSize={15}>
        {geometry.rows.map((row) => (
          <text key={row.y} x={row.x} y={row.y}>
            {row.text}
          </text>
        ))}
        <text x={front.x} y={front.y - 10} textAnchor={front.pointing === 'left' ? 'start' : 'end'}>
          {t`front`}
        </text>
      </g>
      <path
        d={`M${front.x - tip * 40} ${front.y} H${front.x} m${-tip * 9} -5 l${tip * 9} 5 l${-tip * 9} 5`}
        stroke="var(--color-ink-soft)"
      />
    </g>
  )
}
