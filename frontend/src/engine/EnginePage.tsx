import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useEffect, useMemo, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import {
  costEstimateAddress,
  driftAddress,
  engineDataAddress,
  measureAddress,
  sheetAddress,
  stepAddress,
  tablesAddress,
  valveAddress,
} from '@/api/addresses'
import type { Analysis, EngineDetail } from '@/api/client'
import { analysisQuery, driftQuery, engineQuery } from '@/api/queries'
import { Button, buttonClass } from '@/design/Button'
import { length, lengthRange, usage, type LengthUnit } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet, TitleBlock } from '@/design/Sheet'
import { SimulatedVisits } from '@/design/SimulatedNotice'
import { useTitle } from '@/design/useTitle'
import { gapOf, specsOf, type Gap } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { ASSUMED_TOLERANCE_MM } from '@/engine/form/draft'
import { NextCheck } from './NextCheck'
import { adjustmentWords } from '@/shared/adjustments'
import { OpenCase } from '@/shared/OpenCase'
import { DevelopingFaults } from './DevelopingFaults'
import { ArchivedNotice, EngineEnd } from './EngineEnd'
import { SisterEngines } from './SisterEngines'
import { PriceLines } from '@/shared/PriceLines'
import { ValveHistory } from '@/engine/drift/ValveHistory'
import { VisitTable } from './VisitTable'
import { Whose } from './Whose'
import { WhatIf } from './WhatIf'

// The forms' library is not fetched with the first page.
const startVisit = () => import('./start-visit/StartVisit')
const StartVisit = lazy(async () => ({ default: (await startVisit()).StartVisit }))

export function EnginePage() {
  const { engineId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const analysis = useQuery(analysisQuery(engineId))
  const error = engine.error ?? analysis.error
  if (engine.data && analysis.data) {
    return <EngineView detail={engine.data} analysis={analysis.data} />
  }
  return error ? <ErrorNotice error={error} /> : <Loading what={t`the engine`} />
}

/** The gaps currently after the last visit: as left, else as found. */
function standingGaps(analysis: Analysis): Record<string, Gap | undefined> {
  return Object.fromEntries(
    analysis.valves.map((valve) => [
      valve.valve,
      valve.standing ? gapOf(valve.standing) : undefined,
    ]),
  )
}

/** The valve that opens first: the one least likely to be in spec, else the first. */
function firstValve(analysis: Analysis): string | undefined {
  const read = analysis.valves.filter((valve) => valve.standing)
  const worst = read.sort((a, b) => (a.standing?.p_in ?? 1) - (b.standing?.p_in ?? 1))[0]
  return (worst ?? analysis.valves[0])?.valve
}

function EngineView({ detail, analysis }: { detail: EngineDetail; analysis: Analysis }) {
  const { engine } = detail
  const { valveId } = useParams()
  const { unit } = usePreferences()
  const navigate = useNavigate()
  // Undefined until it was first asked for; closed, it keeps what was typed.
  const [starting, setStarting] = useState<boolean>()
  useEffect(() => void startVisit(), [])
  useTitle(engine.name ?? engine.id)
  const gaps = useMemo(() => standingGaps(analysis), [analysis])
  const specOf = useMemo(() => specsOf(analysis), [analysis])
  const selected = valveId ?? firstValve(analysis)
  const drift = useQuery(driftQuery(engine.id))
  // The readings are there at once; what is ahead comes with the drift model's answer.
  const known = drift.data ?? analysis
  const valve = known.valves.find((one) => one.valve === selected)
  const last = analysis.visits.at(-1)

  return (
    <div className="mx-auto max-w-[1400px]">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{engine.name ?? engine.id}</h1>
        <div className="no-print flex flex-wrap gap-2">
          <Link to={driftAddress(engine.id)} className={buttonClass('quiet')}>
            {t`Drift sheet`}
          </Link>
          <Link to={engineDataAddress(engine.id)} className={buttonClass('quiet')}>
            {t`Edit engine`}
          </Link>
          <Link to={sheetAddress(engine.id)} className={buttonClass('quiet')}>
            {t`Check sheet (blank)`}
          </Link>
          <Link to={tablesAddress(engine.id)} className={buttonClass('quiet')}>
            {t`Export and import`}
          </Link>
          {last && (
            <Link
              to={
                engine.adjustment === 'hydraulic'
                  ? stepAddress(engine.id, last.visit, 'adjust')
                  : measureAddress(engine.id, last.visit)
              }
              className={buttonClass()}
            >
              <Trans>Continue visit {last.visit}</Trans>
            </Link>
          )}
          <Button look="main" onClick={() => setStarting(true)}>
            {t`New visit`}
          </Button>
          <OpenCase
            engineId={engine.id}
            visitId={last?.visit ?? null}
            number={detail.cases.length + 1}
          />
        </div>
      </div>
      <ArchivedNotice engine={engine} />
      <SimulatedVisits visits={analysis.visits} />
      <Whose detail={detail} />
      <EngineData detail={detail} unit={unit} asOf={analysis.as_of_usage} />
      <div className="mt-4 grid grid-cols-1 gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div className="flex flex-col gap-4">
          <Sheet
            title={last ? t`Head after visit ${last.visit}` : t`Head`}
            aside={
              <span className="text-sm text-ink-soft">{t`choose a valve to see its history`}</span>
            }
          >
            <div className="p-3">
              <HeadPlan
                valves={engine.valves}
                layout={engine.layout}
                specs={specOf}
                gaps={gaps}
                unit={unit}
                selected={selected}
                onSelect={(id) => void navigate(valveAddress(engine.id, id), { replace: true })}
                label={t`Plan of the head of ${engine.name ?? engine.id}`}
                className="max-h-[430px]"
              />
            </div>
          </Sheet>
          <NextCheck analysis={known} />
          {last && <DevelopingFaults engineId={engine.id} unit={unit} />}
          <SisterEngines engine={engine} unit={unit} />
          {last && (
            <WhatIf key={selected} engine={engine} analysis={known} valve={valve} unit={unit} />
          )}
          <Sheet
            title={t`Cost of a check`}
            aside={
              <Link to={costEstimateAddress(engine.id)} className="no-print text-sm">
                {t`Estimate for the customer`}
              </Link>
            }
          >
            <PriceLines engineId={engine.id} />
          </Sheet>
          <VisitTable analysis={analysis} detail={detail} />
          <EngineEnd engine={engine} />
        </div>
        {valve ? (
          <ValveHistory analysis={known} valve={valve} unit={unit} calculating={drift.isPending} />
        ) : (
          <Empty>
            <Trans>This engine has no valve {selected}. Choose one on the plan.</Trans>
          </Empty>
        )}
      </div>
      {starting !== undefined && (
        <Suspense fallback={null}>
          <StartVisit
            open={starting}
            onClose={() => setStarting(false)}
            number={analysis.visits.length + 1}
            engine={engine}
            asOf={analysis.as_of_usage}
          />
        </Suspense>
      )}
    </div>
  )
}

function specText(
  spec: { min_mm?: number | null; max_mm?: number | null; figure_mm?: number | null },
  unit: LengthUnit,
) {
  if (spec.min_mm != null && spec.max_mm != null) return lengthRange(spec.min_mm, spec.max_mm, unit)
  if (spec.figure_mm == null) return t`none`
  return t`${length(spec.figure_mm, unit)} ± ${length(ASSUMED_TOLERANCE_MM, unit)} assumed`
}

function EngineData({
  detail: { engine },
  unit,
  asOf,
}: {
  detail: EngineDetail
  unit: LengthUnit
  asOf: number | null
}) {
  const source = engine.source
    ? `${engine.source.title}${engine.source.page ? t`, page ${engine.source.page}` : ''}`
    : t`source not given`
  // A figure without a source is source not given, and says so where it stands.
  const sourced = (text: string) => (engine.source ? text : t`${text}, source not given`)
  return (
    <TitleBlock
      cells={[
        { name: t`running total`, value: asOf === null ? '–' : usage(asOf, engine.usage_unit) },
        { name: t`check every`, value: sourced(usage(engine.check_interval, engine.usage_unit)) },
        { name: t`spec, intake`, value: sourced(specText(engine.spec.intake, unit)) },
        { name: t`spec, exhaust`, value: sourced(specText(engine.spec.exhaust, unit)) },
        { name: t`kind`, value: engine.kind ?? t`not entered` },
        { name: t`adjustment`, value: adjustmentWords(engine.adjustment) },
        { name: t`fuel`, value: engine.fuel ?? t`not entered` },
        { name: t`firing order`, value: engine.firing_order?.join('-') ?? t`not entered` },
        { name: t`source of the specs`, value: source },
      ]}
    />
  )
}
