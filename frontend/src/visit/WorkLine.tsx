import { Link } from 'react-router'
import { engineAddress, measureAddress, turnAddress } from '@/api/addresses'
import type { Engine, Visit } from '@/api/client'
import { day, usage } from '@/design/format'

/** Where the work stands: the stops of a visit as a drawn line, the one at hand inked. */
export function WorkLine({
  engine,
  visit,
  at,
}: {
  engine: Engine
  visit: Visit
  at: 'turn' | 'measure'
}) {
  const read = visit.valves.filter((valve) => valve.found.tries.length > 0).length
  const limit = engine.check_below_temperature_c
  const warm = limit != null && visit.temperature_c !== null && visit.temperature_c > limit
  return (
    <div className="mb-2 flex flex-wrap items-center justify-between gap-x-6 gap-y-1 border-b border-rule pb-2">
      <nav aria-label="Stops of the visit">
        <ol className="flex items-center">
          <Stop label="Prepare" state="done">
            {day(visit.date)}, {usage(visit.usage, engine.usage_unit)},{' '}
            {visit.temperature_c === null ? 'temperature not noted' : `${visit.temperature_c} °C`}
          </Stop>
          <Rail />
          <Stop
            label="Turn"
            state={at === 'turn' ? 'here' : 'open'}
            to={at === 'turn' ? undefined : turnAddress(engine.id, visit.id)}
          />
          <Rail />
          <Stop
            label="Measure"
            state={at === 'measure' ? 'here' : read === visit.valves.length ? 'done' : 'open'}
            to={at === 'measure' ? undefined : measureAddress(engine.id, visit.id)}
          >
            {read} of {visit.valves.length} read
          </Stop>
          <Rail />
          <Stop label="Watch" state="open" to={engineAddress(engine.id)}>
            {engine.name ?? engine.id}
          </Stop>
        </ol>
      </nav>
      {warm && (
        <p className="font-semibold text-loose">
          Over {limit} °C: this is no cold check, and the figures are corrected but less sure.
        </p>
      )}
    </div>
  )
}

function Rail() {
  return <li aria-hidden="true" className="mx-2 h-0.5 w-8 bg-rule-strong" />
}

function Stop({
  label,
  state,
  to,
  children,
}: {
  label: string
  state: 'done' | 'here' | 'open'
  to?: string
  children?: React.ReactNode
}) {
  const mark =
    state === 'here'
      ? 'bg-ink border-ink'
      : state === 'done'
        ? 'bg-rule-strong border-rule-strong'
        : 'border-rule-strong'
  return (
    <li className="flex items-center gap-2" aria-current={state === 'here' ? 'step' : undefined}>
      <span aria-hidden="true" className={`size-4 rounded-full border-2 ${mark}`} />
      <span className={state === 'here' ? 'font-bold' : ''}>
        {to ? <Link to={to}>{label}</Link> : label}
      </span>
      <span className="text-sm text-ink-soft">{children}</span>
    </li>
  )
}
