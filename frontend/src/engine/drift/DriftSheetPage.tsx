import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState, type CSSProperties } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { compareAddress, driftAddress, engineAddress, tableAddress } from '@/api/addresses'
import type { Analysis, EngineDetail } from '@/api/client'
import { driftQuery, engineQuery } from '@/api/queries'
import { Button, buttonClass } from '@/design/Button'
import { usage } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { SimulatedVisits } from '@/design/SimulatedNotice'
import { useTitle } from '@/design/useTitle'
import { planGeometry } from '@/head-plan/planGeometry'
import { scalesOf } from './chartGeometry'
import { DriftTable } from './DriftTable'
import { Regimes } from './Regimes'
import { SmallChart } from './SmallChart'
import { truthOf, useTruth } from './simulatedTruth'
import { ValveHistory } from './ValveHistory'

/** Every valve of an engine along its usage, in the places of the plan, and the same as a table. */
export function DriftSheetPage() {
  const { engineId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const drift = useQuery(driftQuery(engineId))
  const error = engine.error ?? drift.error
  if (engine.data && drift.data) return <DriftSheet detail={engine.data} analysis={drift.data} />
  return error ? <ErrorNotice error={error} /> : <Loading what={t`the drift sheet`} />
}

/** The valves row by row currently on the plan of the head. */
function rowsOf({ engine }: EngineDetail): string[][] {
  const { valves } = planGeometry(engine.valves, engine.layout ?? {})
  const rows = new Map<number, { id: string; x: number }[]>()
  for (const valve of valves) rows.set(valve.y, [...(rows.get(valve.y) ?? []), valve])
  return [...rows.entries()]
    .sort(([a], [b]) => a - b)
    .map(([, row]) => row.sort((a, b) => a.x - b.x).map((valve) => valve.id))
}

function DriftSheet({ detail, analysis }: { detail: EngineDetail; analysis: Analysis }) {
  const { engine } = detail
  const { valveId } = useParams()
  const { unit } = usePreferences()
  const navigate = useNavigate()
  const clearances = useTruth(engine.id)
  const [withTruth, setWithTruth] = useState(false)
  const name = engine.name ?? engine.id
  useTitle(t`Drift sheet: ${name}`)
  const rows = useMemo(() => rowsOf(detail), [detail])
  const scales = useMemo(() => scalesOf(analysis.valves), [analysis])
  const most = Math.max(...rows.map((row) => row.length))
  const truths = useMemo(
    () =>
      new Map(
        withTruth && clearances
          ? analysis.valves.map(({ valve }) => [valve, truthOf(clearances, analysis, valve)])
          : [],
      ),
    [withTruth, clearances, analysis],
  )
  const byName = new Map(analysis.valves.map((valve) => [valve.valve, valve]))
  const large = valveId === undefined ? undefined : byName.get(valveId)
  const last = analysis.as_of_usage

  return (
    <div className="mx-auto max-w-[1400px]">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
        <h1>
          <Trans>Drift sheet: {name}</Trans>
        </h1>
        <div className="no-print flex flex-wrap items-center gap-2">
          {clearances && (
            <label className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-accent"
                checked={withTruth}
                onChange={(event) => setWithTruth(event.target.checked)}
              />
              {t`show the simulated truth`}
            </label>
          )}
          <Link to={engineAddress(engine.id)} className={buttonClass('quiet')}>
            {t`Engine`}
          </Link>
          <Link to={compareAddress(engine.id)} className={buttonClass('quiet')}>
            {t`Compare`}
          </Link>
          <a href={tableAddress(engine.id, 'readings')} className={buttonClass('quiet')} download>
            {t`Readings (CSV)`}
          </a>
          <a href={tableAddress(engine.id, 'drift')} className={buttonClass('quiet')} download>
            {t`Table (CSV)`}
          </a>
          <Button onClick={() => window.print()}>{t`Print`}</Button>
        </div>
      </div>
      <SimulatedVisits visits={analysis.visits} />
      {last === null ? (
        <Empty>
          <Trans>
            No visits yet. Start the first one on{' '}
            <Link to={engineAddress(engine.id)}>the engine’s page</Link>; from the second visit on
            the drift is shown.
          </Trans>
        </Empty>
      ) : (
        <>
          <p className="mb-2 text-sm text-ink-soft">
            <Trans>
              At {usage(last, analysis.usage_unit)}; clearances in {unit}, usage in{' '}
              {analysis.usage_unit}, drift per {usage(analysis.check_interval, analysis.usage_unit)}
              . Band: spec. Bar: from the blade that went in to the one that would not, ○ as found,
              ● as left. Fan: forecast, 50 % and 90 %. ◆ 50 % chance of being out of spec.
            </Trans>
          </p>
          <Regimes analysis={analysis} />
          <div className="flex flex-col gap-2 md:overflow-x-auto">
            {rows.map((row) => (
              <div
                key={row.join()}
                className="grid grid-cols-2 gap-2 md:grid-cols-[repeat(var(--most),minmax(8.5rem,1fr))]"
                style={{ '--most': most } as CSSProperties}
              >
                {row.map((id) => {
                  const valve = byName.get(id)
                  if (!valve) return null
                  return (
                    <Link
                      key={id}
                      to={driftAddress(engine.id, id)}
                      replace
                      aria-label={t`valve ${id} large`}
                      className="rounded-card border border-rule bg-sheet px-2 py-1 text-ink no-underline hover:border-accent"
                    >
                      <SmallChart
                        valve={valve}
                        scales={scales}
                        width={most > 6 ? 150 : most > 4 ? 210 : 300}
                        usageUnit={analysis.usage_unit}
                        unit={unit}
                        truth={truths.get(id)}
                      />
                    </Link>
                  )
                })}
              </div>
            ))}
          </div>
          <div className="mt-4 overflow-x-auto rounded-card border border-rule bg-sheet p-2">
            <DriftTable engineId={engine.id} analysis={analysis} unit={unit} />
          </div>
        </>
      )}
      <Dialog
        open={large !== undefined}
        onClose={() => void navigate(driftAddress(engine.id), { replace: true })}
        className="relative z-30"
      >
        <div className="fixed inset-0 bg-ink/40" aria-hidden="true" />
        <div className="fixed inset-0 overflow-y-auto p-4">
          <DialogPanel className="mx-auto max-w-3xl">
            <DialogTitle as="h1" className="sr-only">
              <Trans>Valve {valveId} large</Trans>
            </DialogTitle>
            {large && (
              <ValveHistory
                analysis={analysis}
                valve={large}
                unit={unit}
                calculating={false}
                truth={truths.get(large.valve)}
              />
            )}
            <div className="mt-2 flex justify-end">
              <Button
                look="main"
                onClick={() => void navigate(driftAddress(engine.id), { replace: true })}
              >
                {t`Back to the drift sheet`}
              </Button>
            </div>
          </DialogPanel>
        </div>
      </Dialog>
    </div>
  )
}
