import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { isDiesel } from '@/shared/fuel'
import { useParams } from 'react-router'
import type { Analysis, CrankPlan, EngineDetail } from '@/api/client'
import { analysisQuery, engineQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { lengthRange, usage } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { useTitle } from '@/design/useTitle'
import { specsOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { crankQuery } from '@/shared/visitQueries'
import { named } from '@/design/names'

/** A blank sheet for the bench: the plan of the head, the crank positions in order, boxes to write in. */
export function BlankSheetPage() {
  const { engineId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const analysis = useQuery(analysisQuery(engineId))
  const crank = useQuery(crankQuery(engineId))
  const error = engine.error ?? analysis.error
  if (!engine.data || !analysis.data || crank.isPending) {
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the check sheet`} />
  }
  return <BlankSheet detail={engine.data} analysis={analysis.data} plan={crank.data} />
}

type Station = { mark: string; valves: string[] }

/** Position by position; what no position frees, or all where none can be told, stands last. */
function stationsOf(detail: EngineDetail, plan: CrankPlan | undefined): Station[] {
  const stations = plan?.stations.map(({ mark, valves }) => ({ mark, valves })) ?? []
  const placed = new Set(stations.flatMap((one) => one.valves))
  const rest = detail.engine.valves.map((valve) => valve.id).filter((id) => !placed.has(id))
  return rest.length === 0 ? stations : [...stations, { mark: t`per the manual`, valves: rest }]
}

function BlankSheet({
  detail,
  analysis,
  plan,
}: {
  detail: EngineDetail
  analysis: Analysis
  plan: CrankPlan | undefined
}) {
  const { engine } = detail
  const { unit } = usePreferences()
  const name = engine.name ?? engine.id
  useTitle(t`Check sheet: ${name}`)
  const specs = specsOf(analysis)
  return (
    <div className="mx-auto max-w-[820px] bg-sheet p-6 print:max-w-none print:p-0">
      <div className="flex items-start justify-between gap-4">
        <h1>
          <Trans>Valve clearances: {name}</Trans>
        </h1>
        <Button look="main" className="no-print" onClick={() => window.print()}>
          {t`Print`}
        </Button>
      </div>
      <div className="mt-2 grid grid-cols-4 gap-3 text-sm">
        {[t`date`, t`meter (${engine.usage_unit})`, t`engine temperature (°C)`, t`technician`].map(
          (label) => (
            <div key={label} className="border-b border-ink pb-5 text-ink-soft">
              {label}
            </div>
          ),
        )}
      </div>
      <p className="mt-2 text-sm text-ink-soft">
        <Trans>
          Last check at{' '}
          {analysis.as_of_usage === null ? '–' : usage(analysis.as_of_usage, engine.usage_unit)}.
          Cold engine
        </Trans>
        {engine.check_below_temperature_c != null &&
          t`, below ${engine.check_below_temperature_c} °C`}
        <Trans>
          . {isDiesel(engine) ? t`Stop control at stop` : t`Plug lead off`}; turn by hand, in the
          direction of rotation only.
        </Trans>
      </p>
      <HeadPlan
        valves={engine.valves}
        layout={engine.layout}
        specs={specs}
        gaps={{}}
        flags={Object.fromEntries(engine.valves.map((valve) => [valve.id, '']))}
        unit={unit}
        label={t`Plan of the head of ${name}`}
        className="my-2 max-h-[230px]"
      />
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-sm">
          <thead>
            <tr className="text-left">
              <th rowSpan={2} className="border border-ink px-2 font-normal">
                {t`valve`}
              </th>
              <th rowSpan={2} className="border border-ink px-2 font-normal">
                {t`spec`}
              </th>
              {[t`as found`, t`as left`].map((phase) => (
                <th key={phase} colSpan={2} className="border border-ink px-2">
                  {named(phase)}
                </th>
              ))}
            </tr>
            <tr className="text-left">
              {['found', 'left'].flatMap((phase) =>
                [t`went in`, t`would not go`].map((box) => (
                  <th key={`${phase} ${box}`} className="border border-ink px-2 font-normal">
                    {box}
                  </th>
                )),
              )}
            </tr>
          </thead>
          {stationsOf(detail, plan).map((station, index) => (
            <tbody key={station.mark} className="break-inside-avoid">
              <tr>
                <th colSpan={6} className="border border-ink bg-paper px-2 text-left">
                  {index + 1}. {station.mark}
                </th>
              </tr>
              {station.valves.map((id) => {
                const spec = specs[id]
                return (
                  <tr key={id}>
                    <th scope="row" className="h-8 border border-ink px-2 text-left">
                      {id}
                    </th>
                    <td className="border border-ink px-2 whitespace-nowrap">
                      {spec ? lengthRange(spec.min_mm, spec.max_mm, unit) : '–'}
                    </td>
                    {[0, 1, 2, 3].map((box) => (
                      <td key={box} className="w-1/6 border border-ink" />
                    ))}
                  </tr>
                )
              })}
            </tbody>
          ))}
        </table>
      </div>
      <p className="mt-2 text-sm text-ink-soft">
        {t`Thickest blade that went in, thinnest that would not; add d where it drags, f where it slides freely.`}
      </p>
    </div>
  )
}
