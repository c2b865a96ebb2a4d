import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { isDiesel } from '@/shared/fuel'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { measureAddress, stepAddress } from '@/api/addresses'
import type { CrankPlan, EngineDetail, Visit } from '@/api/client'
import { analysisQuery, engineQuery } from '@/api/queries'
import { buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { gapOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { CrankDrawing } from './CrankDrawing'
import { pastTopWords } from '@/visit/shared/StationLine'
import { crankQuery, useChooseSchool, visitQuery } from '@/shared/visitQueries'
import { SCHOOLS, type School } from '@/shared/crankMethod'
import { Cautions } from '@/visit/shared/StepPage'
import { isHydraulic, StepLine } from '@/visit/shared/StepLine'

/** Where to turn the crank, and which valves may be measured there. */
export function PositionPage() {
  const { engineId = '', visitId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const visit = useQuery(visitQuery(engineId, visitId))
  const school = visit.data?.school
  const plan = useQuery(crankQuery(engineId, school))
  const choose = useChooseSchool(engineId, visitId)
  const error = engine.error ?? visit.error
  if (!engine.data || !visit.data) {
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the visit`} />
  }
  return (
    <div className="mx-auto max-w-[1400px]">
      <StepLine engine={engine.data.engine} visit={visit.data} at="position" />
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Position`}</h1>
        {plan.data?.school !== 'manual' && (
          <SchoolChoice school={visit.data.school} onChange={choose.mutate} />
        )}
      </div>
      {plan.data ? (
        <Stations key={plan.data.school} plan={plan.data} detail={engine.data} visit={visit.data} />
      ) : plan.error ? (
        <ErrorNotice error={plan.error} />
      ) : (
        <Loading what={t`the crank positions`} />
      )}
    </div>
  )
}

function SchoolChoice({
  school,
  onChange,
}: {
  school: School
  onChange: (school: School) => void
}) {
  return (
    <fieldset className="flex flex-wrap gap-x-5">
      <legend className="sr-only">{t`Method`}</legend>
      {SCHOOLS.map((one) => (
        <label key={one.id} className="flex min-h-12 items-center gap-2">
          <input
            type="radio"
            name="school"
            className="size-5 accent-accent"
            checked={school === one.id}
            onChange={() => onChange(one.id)}
          />
          <span>
            {one.label}
            <span className="block text-sm text-ink-soft">{one.help}</span>
          </span>
        </label>
      ))}
    </fieldset>
  )
}

function turnWords(plan: CrankPlan, index: number): string {
  const by = plan.turns_between_deg[index - 1]
  return by === undefined ? t`Turn to` : t`Turn a further ${Math.round(by * 10) / 10} degrees, to`
}

function Stations({
  plan,
  detail,
  visit,
}: {
  plan: CrankPlan
  detail: EngineDetail
  visit: Visit
}) {
  const { engine } = detail
  const { unit } = usePreferences()
  const [at, setAt] = useState(0)
  const analysis = useQuery(analysisQuery(engine.id))
  useTitle(t`Position, visit ${visit.id}: ${engine.name ?? engine.id}`)
  const station = plan.stations[at]
  const marked = useMemo(() => new Set(station?.valves ?? []), [station])
  const specs = useMemo(
    () => Object.fromEntries((analysis.data?.valves ?? []).map((one) => [one.valve, one.spec])),
    [analysis.data],
  )
  const gaps = useMemo(
    () =>
      Object.fromEntries(
        visit.valves.map((one) => [
          one.valve,
          one.found.estimate ? gapOf(one.found.estimate) : undefined,
        ]),
      ),
    [visit],
  )
  if (!station) return null
  return (
    <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)]">
      <Sheet
        title={
          plan.school === 'manual' ? t`Positions from the engine’s manual` : t`Positions in order`
        }
      >
        <ol>
          {plan.stations.map((one, index) => (
            <li key={one.valves.join(' ')} className="border-b border-rule">
              <button
                type="button"
                aria-pressed={index === at}
                onClick={() => setAt(index)}
                className={`block min-h-14 w-full border-l-6 px-3 py-2 text-left ${
                  index === at ? 'border-accent bg-accent-pale' : 'border-transparent'
                }`}
              >
                <span className="text-sm text-ink-soft">
                  {index + 1}. {turnWords(plan, index)}
                </span>
                <span className="block font-semibold">{one.mark}</span>
                <span className="block text-lg">{one.valves.join('  ')}</span>
              </button>
            </li>
          ))}
        </ol>
        <div className="flex flex-col gap-2 px-4 py-3">
          <Cautions detail={detail} step="position" />
          <p className="text-ink-soft">
            <Trans>
              Compression stroke: as the piston comes up, both valves stay closed and a thumb over{' '}
              {isDiesel(detail.engine) ? t`the injector hole` : t`the plug hole`} is pushed away. On
              the other stroke the exhaust valve is just closing while the intake valve opens.
            </Trans>
          </p>
          {plan.past_top && <p>{pastTopWords(plan.past_top)}</p>}
          {plan.lobe_position && (
            <p>
              <Trans>Manual: {plan.lobe_position}</Trans>
            </p>
          )}
        </div>
      </Sheet>
      <Sheet
        title={t`Valves at ${station.mark}`}
        aside={
          isHydraulic(engine) ? (
            <Link to={stepAddress(engine.id, visit.id, 'adjust')} className={buttonClass('main')}>
              {t`Adjust preload here`}
            </Link>
          ) : (
            <Link
              to={measureAddress(engine.id, visit.id, station.valves[0])}
              className={buttonClass('main')}
            >
              <Trans>Measure here, from {station.valves[0]}</Trans>
            </Link>
          )
        }
      >
        <div className="flex flex-wrap items-center justify-center gap-4 p-3">
          {station.crank_deg !== null && <CrankDrawing plan={plan} crankDeg={station.crank_deg} />}
          <div className="min-w-72 flex-1">
            <HeadPlan
              valves={engine.valves}
              layout={engine.layout}
              specs={specs}
              gaps={gaps}
              unit={unit}
              marked={marked}
              label={t`Plan of the head, valves to measure at this position`}
              className="max-h-[380px]"
            />
          </div>
        </div>
      </Sheet>
    </div>
  )
}
