import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { queryOptions, useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { compareAddress, engineAddress, type ComparedState } from '@/api/addresses'
import { api, unwrap, type Analysis, type Comparison, type EngineDetail } from '@/api/client'
import { analysisQuery, driftQuery, engineQuery, sistersQuery } from '@/api/queries'
import { Button, buttonClass } from '@/design/Button'
import { day, usage, type LengthUnit } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { scalesOf } from '@/engine/drift/chartGeometry'
import { SmallChart } from '@/engine/drift/SmallChart'
import { gapOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { ComparedTable } from './ComparedTable'
import { startingPair, suggestedPairs } from './pairs'
import { StateChoice } from './StateChoice'

type Pair = [ComparedState, ComparedState]

const comparisonQuery = ([first, second]: Pair) =>
  queryOptions({
    queryKey: ['engines', first.engine, 'compared', first, second],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/compared', {
          params: {
            path: { engine_id: first.engine, visit_id: first.visit },
            query: {
              when: first.when,
              with_engine: second.engine,
              with_visit: second.visit,
              with_when: second.when,
            },
          },
        }),
      ),
  })

/** Two visits, before and after work on the head, or two sister engines, side by side. */
export function ComparePage() {
  const { engineId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const analysis = useQuery(analysisQuery(engineId))
  const error = engine.error ?? analysis.error
  if (engine.data && analysis.data) {
    return <Choosing detail={engine.data} analysis={analysis.data} />
  }
  return error ? <ErrorNotice error={error} /> : <Loading what={t`the engine`} />
}

/** What the address names, where it names both; a visit that is not there is answered by the server. */
function pairOf(engineId: string, query: URLSearchParams): Pair | null {
  const [visit, other] = [query.get('visit'), query.get('with_visit')]
  if (!visit || other === null) return null
  const when = (name: string) => (query.get(name) === 'after' ? 'after' : 'found')
  return [
    { engine: engineId, visit, when: when('when') },
    { engine: query.get('with_engine') ?? engineId, visit: other, when: when('with_when') },
  ]
}

function Choosing({ detail, analysis }: { detail: EngineDetail; analysis: Analysis }) {
  const { engine } = detail
  const name = engine.name ?? engine.id
  const navigate = useNavigate()
  const [query] = useSearchParams()
  const sisters = useQuery(sistersQuery(engine.id))
  useTitle(t`Compare: ${name}`)
  const named = pairOf(engine.id, query) ?? startingPair(analysis)
  // An engine that was just chosen is compared at its last visit.
  const theirs = useQuery(analysisQuery(named?.[1].engine ?? engine.id))
  const last = theirs.data?.valves[0]?.history.at(-1)?.visit ?? ''
  const pair: Pair | null = named && [
    named[0],
    named[1].visit === '' ? { ...named[1], visit: last } : named[1],
  ]
  const choose = (states: Pair) =>
    void navigate(compareAddress(engine.id, states), { replace: true })
  const engines = [
    { id: engine.id, label: name },
    ...(sisters.data?.sisters ?? []).map((one) => ({ id: one.id, label: one.name })),
  ]
  return (
    <div className="mx-auto max-w-[1400px]">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
        <h1>
          <Trans>Compare: {name}</Trans>
        </h1>
        <div className="no-print flex flex-wrap gap-2">
          <Link to={engineAddress(engine.id)} className={buttonClass('quiet')}>
            {t`Engine`}
          </Link>
          <Button onClick={() => window.print()}>{t`Print`}</Button>
        </div>
      </div>
      {pair ? (
        <>
          <div className="no-print mb-3 flex flex-wrap items-center gap-2">
            {suggestedPairs(analysis).map((one) => (
              <Button key={one.label} look="quiet" onClick={() => choose(one.pair)}>
                {one.label}
              </Button>
            ))}
          </div>
          <div className="no-print mb-3 grid gap-4 md:grid-cols-2">
            <StateChoice
              label={t`First`}
              state={pair[0]}
              engines={engines.slice(0, 1)}
              onChange={(first) => choose([first, pair[1]])}
            />
            <StateChoice
              label={t`Second`}
              state={pair[1]}
              engines={engines}
              onChange={(second) => choose([pair[0], second])}
            />
          </div>
          {pair[1].visit !== '' && <Compared pair={pair} />}
        </>
      ) : (
        <Empty>
          <Trans>
            There is nothing to compare yet: this engine has no visit. Start one on{' '}
            <Link to={engineAddress(engine.id)}>the engine’s page</Link>.
          </Trans>
        </Empty>
      )}
    </div>
  )
}

function Compared({ pair }: { pair: Pair }) {
  const { unit } = usePreferences()
  const comparison = useQuery(comparisonQuery(pair))
  const [valve, setValve] = useState<string>()
  if (!comparison.data) {
    return comparison.error ? (
      <ErrorNotice error={comparison.error} />
    ) : (
      <Loading what={t`the comparison`} />
    )
  }
  const { data } = comparison
  const selected = valve ?? mostChanged(data)
  return (
    <div className="flex flex-col gap-4">
      <div className="grid gap-4 md:grid-cols-2">
        {(['first', 'second'] as const).map((at) => (
          <OneSide
            key={at}
            at={at}
            comparison={data}
            unit={unit}
            selected={selected}
            onSelect={setValve}
          />
        ))}
      </div>
      {data.only_in_one.length > 0 && (
        <p className="text-ink-soft">
          <Trans>Only one of the engines has {data.only_in_one.join(', ')}: left out.</Trans>
        </p>
      )}
      <Sheet
        title={t`Valve by valve`}
        aside={
          <span className="text-sm text-ink-soft">
            {t`second less first; ± is one standard deviation of the two readings`}
          </span>
        }
      >
        <ComparedTable comparison={data} unit={unit} selected={selected} onSelect={setValve} />
      </Sheet>
      <Charts pair={pair} valve={selected} unit={unit} />
    </div>
  )
}

/** The valve that changed most beyond the error of its readings, else the first. */
function mostChanged(comparison: Comparison): string | undefined {
  const score = (one: Comparison['valves'][number]) =>
    Math.abs(one.difference_mm ?? 0) / (one.sd_mm ?? 1)
  return [...comparison.valves].sort((a, b) => score(b) - score(a))[0]?.valve
}

function OneSide({
  at,
  comparison,
  unit,
  selected,
  onSelect,
}: {
  at: 'first' | 'second'
  comparison: Comparison
  unit: LengthUnit
  selected: string | undefined
  onSelect: (valve: string) => void
}) {
  const side = comparison[at]
  const engine = useQuery(engineQuery(side.engine))
  const gaps = useMemo(
    () =>
      Object.fromEntries(
        comparison.valves.map((one) => {
          const { estimate } = one[at]
          return [one.valve, estimate ? gapOf(estimate) : undefined]
        }),
      ),
    [comparison, at],
  )
  const specs = Object.fromEntries(comparison.valves.map((one) => [one.valve, one[at].spec]))
  return (
    <Sheet
      title={`${side.name}: ${side.when === 'found' ? t`as found at` : t`after`} ${side.visit}`}
    >
      <p className="px-4 pt-2 text-sm text-ink-soft">
        {day(side.date)}, {usage(side.usage, side.usage_unit)}
        {side.temperature_c !== null && `, ${side.temperature_c} °C`}
        {side.technician && `, ${side.technician}`}
      </p>
      <div className="p-3">
        {engine.data && (
          <HeadPlan
            valves={engine.data.engine.valves}
            layout={engine.data.engine.layout}
            specs={specs}
            gaps={gaps}
            unit={unit}
            selected={selected}
            onSelect={onSelect}
            label={t`Plan of ${side.name}, visit ${side.visit}`}
            className="max-h-[300px]"
          />
        )}
      </div>
    </Sheet>
  )
}

/** The histories of one valve on the same scales; of one engine there is only one. */
function Charts({
  pair: [first, second],
  valve,
  unit,
}: {
  pair: Pair
  valve: string | undefined
  unit: LengthUnit
}) {
  const one = useQuery(driftQuery(first.engine))
  const other = useQuery(driftQuery(second.engine))
  if (!one.data || !other.data || valve === undefined) return null
  const analyses = first.engine === second.engine ? [one.data] : [one.data, other.data]
  const shown = analyses.flatMap((analysis) => {
    const found = analysis.valves.find((each) => each.valve === valve)
    return found ? [{ analysis, valve: found }] : []
  })
  const scales = scalesOf(shown.map((each) => each.valve))
  return (
    <Sheet title={t`Valve ${valve} over usage`}>
      <div className={`grid gap-4 p-3 ${shown.length > 1 ? 'md:grid-cols-2' : 'max-w-xl'}`}>
        {shown.map((each) => (
          <div key={each.analysis.engine}>
            {shown.length > 1 && <p className="text-sm text-ink-soft">{each.analysis.engine}</p>}
            <SmallChart
              valve={each.valve}
              scales={scales}
              width={480}
              usageUnit={each.analysis.usage_unit}
              unit={unit}
            />
          </div>
        ))}
      </div>
    </Sheet>
  )
}
