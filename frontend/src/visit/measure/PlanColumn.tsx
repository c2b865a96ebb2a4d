import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { checkSheetAddress } from '@/api/addresses'
import type { Analysis, CrankPlan, EngineDetail, Visit } from '@/api/client'
import { Button } from '@/design/Button'
import { usePreferences } from '@/design/preferences'
import { gapOf, specsOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { usePhotographedValves } from '@/shared/photographQueries'
import { StationLine, stationOf } from '@/visit/shared/StationLine'
import { LastTime } from './LastTime'
import { ListeningBanner } from './ListeningBanner'
import type { Listening } from './useListening'
import type { ValveWork } from './useValveWork'
import { ValveNotes } from './ValveNotes'
import { named } from '@/design/names'

/** Where the work stands: the position of the crank, the plan with what was read, the notes of the valve. */
export function PlanColumn({
  detail: { engine, cautions },
  analysis,
  visit,
  plan,
  work,
  bladeSetName,
  listening,
  onOtherBlades,
}: {
  detail: EngineDetail
  analysis: Analysis
  visit: Visit
  plan: CrankPlan | undefined
  work: ValveWork
  bladeSetName: string
  listening: Listening
  onOtherBlades: () => void
}) {
  const { unit } = usePreferences()
  const { valve, phase } = work
  const gaps = useMemo(
    () =>
      Object.fromEntries(
        visit.valves.map((one) => {
          const read = one[phase].estimate
          return [one.valve, read ? gapOf(read) : undefined]
        }),
      ),
    [visit, phase],
  )
  const station = stationOf(plan, valve)
  const photographed = usePhotographedValves(engine.id, visit.id)
  return (
    // On a small screen the blades come between the plan and the rest, so that a thumb reaches the answers.
    <div className="contents min-w-0 lg:block">
      <div className="min-w-0">
        <StationLine
          plan={plan}
          station={station}
          engineId={engine.id}
          visitId={visit.id}
          cautions={cautions.filter((one) => one.step === 'measure').map((one) => one.text)}
        />
        <HeadPlan
          valves={engine.valves}
          layout={engine.layout}
          specs={specsOf(analysis)}
          gaps={gaps}
          unit={unit}
          selected={valve}
          onSelect={work.goTo}
          marked={station && new Set(station.valves)}
          photographed={photographed}
          label={t`Plan of the head, readings as ${named(phase)}`}
          className="max-h-[20vh] lg:max-h-[440px]"
        />
        <ListeningBanner listening={listening} />
      </div>
      <div className="order-last min-w-0">
        <LastTime analysis={analysis} valve={valve} visit={visit} engineId={engine.id} />
        <div className="mt-1 flex flex-wrap items-center justify-between gap-x-3 text-sm">
          <Button
            look="quiet"
            className="-ml-4 min-h-12"
            onClick={onOtherBlades}
            aria-label={t`Change feeler gauge set; now: ${bladeSetName}`}
          >
            <Trans>Blades: {bladeSetName}</Trans>
          </Button>
          <Link to={checkSheetAddress(engine.id, visit.id)}>{t`enter a check sheet`}</Link>
          {listening.status === 'off' && (
            <Button look="quiet" className="min-h-12 px-0!" onClick={listening.toggle}>
              <Trans>
                Listen to me<span className="max-lg:hidden">( V )</span>
              </Trans>
            </Button>
          )}
          <label className="flex min-h-12 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-accent"
              checked={work.advancesByItself}
              onChange={(event) => work.setAdvancing(event.target.checked)}
            />
            {t`advance when decided`}
          </label>
        </div>
        <ValveNotes
          valve={engine.valves.find((one) => one.id === valve)}
          measured={work.stored}
          phase={phase}
          unit={unit}
        />
      </div>
    </div>
  )
}
