import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { queryOptions, useQuery } from '@tanstack/react-query'
import { Link, useNavigate, useParams } from 'react-router'
import { engineAddress, measureAddress, valveAddress, valveLifeAddress } from '@/api/addresses'
import { api, unwrap, type Era, type LifeVisit, type ValveLife } from '@/api/client'
import { driftQuery, engineQuery, findingsQuery } from '@/api/queries'
import { Button, buttonClass } from '@/design/Button'
import { day, length, movement, usage, type LengthUnit, fixed } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { SelectField } from '@/design/SelectField'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { HistoryChart } from '@/engine/drift/HistoryChart'
import { MarkedReading } from '@/head-plan/MarkedReading'
import { named } from '@/design/names'
import { changed } from '@/design/names'

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
    <Loading what={t`what is known of the valve`} />
  )
}

function Life({ life }: { life: ValveLife }) {
  const { unit } = usePreferences()
  const navigate = useNavigate()
  const engine = useQuery(engineQuery(life.engine))
  const drift = useQuery(driftQuery(life.engine))
  const chart = drift.data?.valves.find((one) => one.valve === life.valve)
  useTitle(t`Valve ${life.valve}: ${life.name}`)
  return (
    <div className="mx-auto max-w-[1100px]">
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h1>
          <Trans>
            Valve {life.valve} of {life.name}
          </Trans>
        </h1>
        <div className="no-print flex flex-wrap items-end gap-2">
          <SelectField
            label={t`Valve`}
            value={life.valve}
            choices={engine.data?.engine.valves.map((one) => one.id) ?? [life.valve]}
            onChange={(valve) =>
              void navigate(valveLifeAddress(life.engine, valve), { replace: true })
            }
          />
          <Link to={valveAddress(life.engine, life.valve)} className={buttonClass('quiet')}>
            {t`Engine`}
          </Link>
          <Button onClick={() => window.print()}>{t`Print`}</Button>
        </div>
      </div>
      <p className="mb-3 text-ink-soft">
        <Trans>
          Cylinder {life.cylinder}, {named(life.side)}
        </Trans>
        {life.shim_mm !== null && t`; shim when first described ${length(life.shim_mm, 'mm')}`}.
      </p>
      {life.eras.length === 0 ? (
        <Empty>
          <Trans>
            No visits yet. What is measured and done at this valve is listed here from the first{' '}
            <Link to={engineAddress(life.engine)}>visit</Link> on.
          </Trans>
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
  'first visit': t`Since the first visit`,
  'head work': t`Since the work on the head`,
  'parts changed': t`With new parts`,
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
          <Trans>{usage(era.usage, life.usage_unit)} of running</Trans>
          {era.moved_mm !== null &&
            t`; moved ${movement(era.moved_mm, unit)} in all, adjustments left out`}
        </span>
      }
    >
      <div className="overflow-x-auto">
        <table className="cards-when-narrow w-full border-collapse text-sm">
          <thead>
            <tr className="border-b border-rule text-left text-ink-soft">
              <th className="py-1 pr-2 pl-4 font-normal">{t`visit`}</th>
              <th className="px-2 py-1 font-normal">{t`at`}</th>
              <th className="px-2 py-1 font-normal">{t`as found`}</th>
              <th className="px-2 py-1 font-normal">{t`what was done`}</th>
              <th className="px-2 py-1 font-normal">{t`as left`}</th>
              <th className="px-2 py-1 pr-4 font-normal">{t`seen there`}</th>
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
      <td className="py-1 pr-2 pl-4" data-label={t`visit`}>
        <Link to={measureAddress(life.engine, visit.visit, life.valve)}>{visit.visit}</Link>
        <span className="block whitespace-nowrap text-ink-soft">{day(visit.date)}</span>
      </td>
      <td className="px-2 py-1 whitespace-nowrap" data-label={t`at`}>
        {usage(visit.usage, life.usage_unit)}
        {visit.temperature_c !== null && (
          <span className="block text-ink-soft">{visit.temperature_c} °C</span>
        )}
      </td>
      <td className="px-2 py-1" data-label={t`as found`}>
        {begins ? '–' : <MarkedReading estimate={visit.found} unit={unit} />}
        {!begins && visit.sudden_change && (
          <span className="block font-semibold text-tight">
            <Trans>
              sudden change: far {changed(visit.sudden_change.direction)} than predicted (
              {fixed(Math.abs(visit.sudden_change.z), 1)} σ)
            </Trans>
          </span>
        )}
      </td>
      <td className="px-2 py-1" data-label={t`what was done`}>
        {ends && (visit.head_work ? t`head off` : t`changed: ${visit.parts_changed.join(', ')}`)}
        {done.map((one) => (
          <span key={one} className="block">
            {one}
          </span>
        ))}
        {!ends && done.length === 0 && '–'}
      </td>
      <td className="px-2 py-1" data-label={t`as left`}>
        {ends ? '–' : <MarkedReading estimate={visit.left} unit={unit} />}
      </td>
      <td className="px-2 py-1 pr-4" data-label={t`seen there`}>
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
      const from = one.shim_from_mm === null ? '' : `${fixed(one.shim_from_mm, 3)} → `
      parts.push(t`shim ${from}${fixed(one.shim_to_mm, 3)} mm`)
      if (one.moved_from !== null) parts.push(t`moved from ${one.moved_from}`)
    }
    if (one.turn_deg !== null) parts.push(t`screw ${one.turn_deg}°`)
    if (one.preload_turns !== null) parts.push(t`preload ${one.preload_turns} turns`)
    if (one.target_mm !== null) parts.push(t`set to ${length(one.target_mm, unit)}`)
    if (one.reason) parts.push(one.reason)
    return parts.join(', ') || t`adjusted`
  })
  const seen = visit.shim_seen
  if (seen?.measured_mm != null) done.push(t`shim found: measures ${fixed(seen.measured_mm, 3)} mm`)
  else if (seen?.printed_mm != null) done.push(t`shim found: marked ${fixed(seen.printed_mm, 3)}`)
  if (visit.decision === 'look-again') done.push(t`decided to check it again soon`)
  return done
}
