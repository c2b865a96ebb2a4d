import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { newId, type CrankPlan, type AdjustStep } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { crankQuery } from '@/shared/visitQueries'
import { useNoteSetting, useTakeBackSetting } from './adjustQueries'
import type { School } from '@/shared/crankMethod'
import { fixed } from '@/design/format'

/** Hydraulic lifters, crank position by position: zero lash by the spin of the rod, then the preload. */
export function Preloads({
  engineId,
  visitId,
  stop,
  school,
  valves,
}: {
  engineId: string
  visitId: string
  school: School
  stop: AdjustStep
  valves: string[]
}) {
  const crank = useQuery(crankQuery(engineId, school))
  const note = useNoteSetting(engineId, visitId)
  const back = useTakeBackSetting(engineId, visitId)
  if (crank.isPending) return <Loading what={t`the crank positions`} />
  const turns = stop.plan.preload?.turns
  const mark = (valve: string) =>
    note.mutate({
      id: `s-${newId().slice(0, 12)}`,
      valve,
      turn_deg: turns === undefined ? null : turns * 360,
      reason: '',
      confirmed: [],
    })
  return (
    <>
      <ol className="list-decimal border-b border-rule py-2 pr-4 pl-9 leading-snug">
        <li>
          {t`Pump the lifters up first: crank the engine until it has oil pressure, or fill each lifter under oil. A dry lifter does not keep its preload.`}
        </li>
        <li>
          {t`At each position slacken the nut, spin the pushrod between two fingers and tighten until it just begins to drag: that is zero lash.`}
        </li>
        <li>
          {turns === undefined ? (
            t`Then apply the preload from the manual; none is entered for this engine.`
          ) : (
            <>
              <Trans>
                From there <strong>{turns} turns</strong> more
              </Trans>
              <Travel preload={stop.plan.preload} />
              {t`, then tighten the locknut.`}
            </>
          )}
        </li>
        <li>{t`Let the lifters bleed down before turning the crank.`}</li>
      </ol>
      {(note.error ?? back.error) && <ErrorNotice error={note.error ?? back.error} />}
      {positionsOf(crank.data, valves).map((position) => {
        const left = position.valves.filter(
          (valve) => !stop.settings.some((one) => one.valve === valve),
        )
        return (
          <section key={position.mark} aria-label={position.mark}>
            <h3 className="flex flex-wrap items-center justify-between gap-2 border-b border-rule bg-paper px-4 py-1.5 font-semibold">
              {position.mark}
              {left.length > 1 && (
                <Button
                  className="min-h-11"
                  disabled={note.isPending}
                  onClick={() => left.forEach(mark)}
                >
                  <Trans>All {left.length} here are preloaded</Trans>
                </Button>
              )}
            </h3>
            <ul className="grid grid-cols-2">
              {position.valves.map((valve) => {
                const done = stop.settings.findLast((one) => one.valve === valve)
                return (
                  <li
                    key={valve}
                    className="flex min-h-14 items-center gap-3 border-b border-rule px-4"
                  >
                    <strong className="w-10 text-lg">{valve}</strong>
                    {done ? (
                      <>
                        <span className="flex-1 text-in">
                          {t`preloaded`}
                          {done.turn_deg !== null && t`, ${Math.abs(done.turn_deg) / 360} turns`}
                        </span>
                        {done.id !== null && (
                          <Button
                            look="quiet"
                            className="px-2!"
                            aria-label={t`Undo the preload of ${valve}`}
                            onClick={() => back.mutate(done.id ?? '')}
                          >
                            {t`undo`}
                          </Button>
                        )}
                      </>
                    ) : (
                      <Button
                        className="ml-auto"
                        aria-label={t`${valve} is preloaded`}
                        onClick={() => mark(valve)}
                      >
                        {t`Mark as preloaded`}
                      </Button>
                    )}
                  </li>
                )
              })}
            </ul>
          </section>
        )
      })}
    </>
  )
}

/** The crank positions with the valves that are set there. */
export function positionsOf(plan: CrankPlan | undefined, valves: string[]) {
  const stations = plan?.stations.map(({ mark, valves: free }) => ({ mark, valves: free })) ?? []
  const placed = new Set(stations.flatMap((one) => one.valves))
  const rest = valves.filter((valve) => !placed.has(valve))
  return rest.length === 0
    ? stations
    : [...stations, { mark: t`At the position given in the manual`, valves: rest }]
}

/** What the turns of preload do to the plunger, where that is known. */
export function Travel({ preload }: { preload: AdjustStep['plan']['preload'] }) {
  if (!preload || preload.plunger_travel_mm === null) return null
  const share = preload.share_of_stroke
  return (
    <>
      <Trans>, plunger travel {fixed(preload.plunger_travel_mm, 2)} mm</Trans>
      {share !== null && t` (${Math.round(share * 100)} % of its stroke)`}
      {preload.sound === false && (
        <strong className="text-loose">
          {' '}
          {t`outside the middle half of its stroke: check the figures`}
        </strong>
      )}
    </>
  )
}
