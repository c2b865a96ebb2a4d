import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { engineAddress, stopAddress, type StopName } from '@/api/addresses'
import type { Engine, Visit } from '@/api/client'
import { day, usage } from '@/design/format'
import { SimulatedNotice } from '@/design/SimulatedNotice'

type StopState = 'done' | 'here' | 'open'

const LABELS: Record<StopName, string> = {
  listen: 'Listen',
  prepare: 'Prepare',
  'look-in': 'Look in',
  turn: 'Turn',
  measure: 'Measure',
  judge: 'Judge',
  set: 'Set',
  prove: 'Prove',
}

/** Whether its lifters take up their own play: there is no clearance to be measured. */
export function isHydraulic(engine: Engine): boolean {
  return engine.adjustment === 'hydraulic'
}

/** The stops that an engine's visit has. */
function stopsOf(engine: Engine): StopName[] {
  const all = Object.keys(LABELS) as StopName[]
  return isHydraulic(engine) ? all.filter((stop) => stop !== 'measure') : all
}

/** Where the work stands: the stops of a visit as a drawn line, the one at hand inked. */
export function StepLine({ engine, visit, at }: { engine: Engine; visit: Visit; at: StopName }) {
  const read = visit.valves.filter((valve) => valve.found.tries.length > 0).length
  const stops = stopsOf(engine)
  return (
    <div className="no-print mb-2 border-b border-rule pb-2">
      <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-1">
        <nav aria-label="Stops of the visit">
          <ol className="flex flex-wrap items-center gap-y-1">
            {stops.map((stop) => (
              <Stop
                key={stop}
                label={LABELS[stop]}
                state={stop === at ? 'here' : visit.done.includes(stop) ? 'done' : 'open'}
                to={stop === at ? undefined : stopAddress(engine.id, visit.id, stop)}
              >
                {stop === 'measure' && `${read} of ${visit.valves.length} read`}
                {stop === 'set' &&
                  isHydraulic(engine) &&
                  `${visit.adjusted.length} of ${visit.valves.length} preloaded`}
              </Stop>
            ))}
            <Stop label="Watch" state="open" to={engineAddress(engine.id)} last />
          </ol>
        </nav>
        <p className="text-sm text-ink-soft">
          <Link to={engineAddress(engine.id)}>{engine.name ?? engine.id}</Link>, visit {visit.id},{' '}
          {day(visit.date)}, {usage(visit.usage, engine.usage_unit)},{' '}
          {visit.temperature_c === null ? 'temperature not noted' : `${visit.temperature_c} °C`}
        </p>
      </div>
      <SimulatedNotice parts={visit.simulated} />
      {visit.not_cold.length > 0 && (
        <p className="font-semibold text-loose">
          No cold check: {visit.not_cold.join('; ')}. The figures are corrected where the lengths
          are known, but less sure.
        </p>
      )}
    </div>
  )
}

const MARKS: Record<StopState, string> = {
  here: 'bg-ink border-ink',
  done: 'bg-rule-strong border-rule-strong',
  open: 'border-rule-strong',
}
const SPOKEN: Record<StopState, string> = { here: '', done: ', done', open: ', not done' }

function Stop({
  label,
  state,
  to,
  last = false,
  children,
}: {
  label: string
  state: StopState
  to?: string
  last?: boolean
  children?: ReactNode
}) {
  return (
    <li className="flex items-center" aria-current={state === 'here' ? 'step' : undefined}>
      <span aria-hidden="true" className={`mr-1 size-4 rounded-full border-2 ${MARKS[state]}`} />
      <span className={state === 'here' ? 'font-bold' : ''}>
        {to ? <Link to={to}>{label}</Link> : label}
        <span className="sr-only">{SPOKEN[state]}</span>
      </span>
      {children && <span className="ml-1.5 text-sm text-ink-soft">{children}</span>}
      {!last && <span aria-hidden="true" className="mx-1.5 h-0.5 w-2 bg-rule-strong" />}
    </li>
  )
}
