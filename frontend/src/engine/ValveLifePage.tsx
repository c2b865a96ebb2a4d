import { queryOptions, useQuery } from '@tanstack/react-query'
import { Link, useNavigate, useParams } from 'react-router'
import { engineAddress, measureAddress, valveAddress, valveLifeAddress } from '@/api/addresses'
import { api, unwrap, type Era, type LifeVisit, type ValveLife } from '@/api/client'
import { driftQuery, engineQuery, findingsQuery } from '@/api/queries'
import { Button, buttonClass } from '@/design/Button'
import { day, length, movement, usage, type LengthUnit } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { SelectField } from '@/design/SelectField'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { HistoryChart } from '@/engine/drift/HistoryChart'
import { MarkedReading } from '@/head-plan/MarkedReading'

const lifeQuery = (engineId: string, valve: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'life', valve],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/valves/{valve}/life', {
          params: { path: { engine_id: engineId, valve } },
        }),
      ),
  })

/** Everything that was measured, set, fitted, changed and seen at one valve. */
export function ValveLifePage() {
  const { engineId = '', valveId = '' } = useParams()
  const life = useQuery(lifeQuery(engineId, valveId))
  if (life.data) return <Life life={life.data} />
  return life.error ? (
    <ErrorNotice error={life.error} />
  ) : (
    <Loading what="what is known of the valve" />
  )
}

function Life({ life }: { life: ValveLife }) {
  const { unit } = usePreferences()
  const navigate = useNavigate()
  const engine = useQuery(engineQuery(life.engine))
  const drift = useQuery(driftQuery(life.engine))
  const chart = drift.data?.valves.find((one) => one.valve === life.valve)
  useTitle(`Valve ${life.valve}: ${life.name}`)
  return (
    <div className="mx-auto max-w-[1100px]">
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h1>
          Valve {life.valve} of {life.name}
        </h1>
        <div className="no-print flex flex-wrap items-end gap-2">
          <SelectField
            label="Valve"
            value={life.valve}
            choices={engine.data?.engine.valves.map((one) => one.id) ?? [life.valve]}
            onChange={(valve) =>
              void navigate(valveLifeAddress(life.engine, valve), { replace: true })
            }
          />
          <Link to={valveAddress(life.engine, life.valve)} className={buttonClass('quiet')}>
            Engine
          </Link>
          <Button onClick={() => window.print()}>Print</Button>
        </div>
      </div>
      <p className="mb-3 text-ink-soft">
        Cylinder {life.cylinder}, {life.side}
        {life.shim_mm !== null && `; shim when first described ${length(life.shim_mm, 'mm')}`}.
      </p>
      {life.eras.length === 0 ? (
        <Empty>
          No visits yet. What is measured and done at this valve is listed here from the first{' '}
          <Link to={engineAddress(life.engine)}>visit</Link> on.
        </Empty>
      ) : (
        <div className="flex flex-col gap-4">
          {chart && (
            <div className="rounded-card border border-rule bg-sheet p-3">
              <HistoryChart valve={chart} usageUnit={life.usage_unit} unit={unit} />
            </div>
          )}
          {life.eras.map((era, index) => (
            <EraSheet key={index} era={era} life={life} unit={unit} number={index + 1} />
          ))}
        </div>
      )}
    </div>
  )
}

const BEGAN: Record<Era['began_with'], string> = {
  'first visit': 'Since the first visit',
  'head work': 'Since the work on the head',
  'parts changed': 'With new parts',
}

function EraSheet({
  era,
  life,
  unit,
  number,
}: {
  era: Era
  life: ValveLife
  unit: LengthUnit
  number: number
}) {
  const parts = era.parts.length > 0 ? ` (${era.parts.join(', ')})` : ''
  return (
    <Sheet
      title={`${BEGAN[era.began_with]}${parts}`}
      aside={
        <span className="text-sm text-ink-soft">
          {usage(era.usage, life.usage_unit)} of running
          {era.moved_mm !== null &&
            `; moved ${movement(era.moved_mm, unit)} in all, adjustments left out`}
        </span>
      }
    >
      <div className="overflow-x-auto">
        <table className="cards-when-narrow w-full border-collapse text-sm">
          <thead>
            <tr className="border-b border-rule text-left text-ink-soft">
              <th className="py-1 pr-2 pl-4 font-normal">visit</th>
              <th className="px-2 py-1 font-normal">at</th>
              <th className="px-2 py-1 font-normal">as found</th>
              <th className="px-2 py-1 font-normal">what was done</th>
              <th className="px-2 py-1 font-normal">as left</th>
              <th className="px-2 py-1 pr-4 font-normal">seen there</th>
            </tr>
          </thead>
          <tbody>
            {era.visits.map((visit, index) => (
              <VisitRow
                key={visit.visit}
                visit={visit}
                life={life}
                unit={unit}
                begins={index === 0 && number > 1}
                ends={index === era.visits.length - 1 && number < life.eras.length}
              />
            ))}
          </tbody>
        </table>
      </div>
    </Sheet>
  )
}

/** A visit; that at which parts were changed stands in two eras, its first half in one, its second in the other. */
function VisitRow({
  visit,
  life,
  unit,
  begins,
  ends,
}: {
  visit: LifeVisit
  life: ValveLife
  unit: LengthUnit
  begins: boolean
  ends: boolean
}) {
  const findings = useQuery(findingsQuery)
  const label = (id: string) => findings.data?.find((one) => one.id === id)?.label ?? id
  const done = begins || !ends ? doneText(visit, unit) : []
  return (
    <tr className="border-b border-rule align-top last:border-0">
      <td className="py-1 pr-2 pl-4" data-label="visit">
        <Link to={measureAddress(life.engine, visit.visit, life.valve)}>{visit.visit}</Link>
        <span className="block whitespace-nowrap text-ink-soft">{day(visit.date)}</span>
      </td>
      <td className="px-2 py-1 whitespace-nowrap" data-label="at">
        {usage(visit.usage, life.usage_unit)}
        {visit.temperature_c !== null && (
          <span className="block text-ink-soft">{visit.temperature_c} °C</span>
        )}
      </td>
      <td className="px-2 py-1" data-label="as found">
        {begins ? '–' : <MarkedReading estimate={visit.found} unit={unit} />}
        {!begins && visit.sudden_change && (
          <span className="block font-semibold text-tight">
            sudden change: far {visit.sudden_change.direction}er than predicted (
            {Math.abs(visit.sudden_change.z).toFixed(1)} σ)
          </span>
        )}
      </td>
      <td className="px-2 py-1" data-label="what was done">
        {ends && (visit.head_work ? 'head off' : `changed: ${visit.parts_changed.join(', ')}`)}
        {done.map((one) => (
          <span key={one} className="block">
            {one}
          </span>
        ))}
        {!ends && done.length === 0 && '–'}
      </td>
      <td className="px-2 py-1" data-label="as left">
        {ends ? '–' : <MarkedReading estimate={visit.left} unit={unit} />}
      </td>
      <td className="px-2 py-1 pr-4" data-label="seen there">
        {!begins &&
          visit.findings
            .filter((one) => one.state === 'present')
            .map((one) => (
              <span key={one.id} className="block">
                {label(one.id)}
                {one.note && `: ${one.note}`}
              </span>
            ))}
        {visit.technician && <span className="block text-ink-soft">{visit.technician}</span>}
      </td>
    </tr>
  )
}

function doneText(visit: LifeVisit, unit: LengthUnit): string[] {
  const done = visit.settings.map((one) => {
    const parts = []
    if (one.shim_to_mm !== null) {
      const from = one.shim_from_mm === null ? '' : `${one.shim_from_mm.toFixed(3)} → `
      parts.push(`shim ${from}${one.shim_to_mm.toFixed(3)} mm`)
      if (one.moved_from !== null) parts.push(`moved from ${one.moved_from}`)
    }
    if (one.turn_deg !== null) parts.push(`screw ${one.turn_deg}°`)
    if (one.preload_turns !== null) parts.push(`preload ${one.preload_turns} turns`)
    if (one.target_mm !== null) parts.push(`set to ${length(one.target_mm, unit)}`)
    if (one.reason) parts.push(one.reason)
    return parts.join(', ') || 'adjusted'
  })
  const seen = visit.shim_seen
  if (seen?.measured_mm != null) done.push(`shim found: measures ${seen.measured_mm.toFixed(3)} mm`)
  else if (seen?.printed_mm != null) done.push(`shim found: marked ${seen.printed_mm.toFixed(3)}`)
  if (visit.decision === 'look-again') done.push('decided to check it again soon')
  return done
}
