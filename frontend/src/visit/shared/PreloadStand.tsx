import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { stepAddress } from '@/api/addresses'
import type { EngineDetail, Visit } from '@/api/client'
import { buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { PriceLines } from '@/shared/PriceLines'
import { Travel, positionsOf } from './Preloads'
import { crankQuery } from '@/shared/visitQueries'
import { settingQuery } from './adjustQueries'

/** How the preload of hydraulic lifters stands, position by position; there is no clearance to judge. */
export function PreloadStand({
  detail: { engine },
  visit,
}: {
  detail: EngineDetail
  visit: Visit
}) {
  const crank = useQuery(crankQuery(engine.id, visit.school))
  const { data: stop, error } = useQuery(settingQuery(engine.id, visit.id))
  if (!stop || crank.isPending) {
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the preload`} />
  }
  const done = new Set(stop.settings.map((one) => one.valve))
  const { preload } = stop.plan
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Assess`}</h1>
        <Link to={stepAddress(engine.id, visit.id, 'adjust')} className={buttonClass('main')}>
          {t`Next: Adjust`}
        </Link>
      </div>
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
        <Sheet title={t`Preload, position by position`}>
          <p className="border-b border-rule px-4 py-2">
            {t`Hydraulic lifters take up the clearance themselves: what counts is the preload from zero lash.`}{' '}
            {preload ? (
              <>
                <Trans>
                  Manual: <strong>{preload.turns} turns</strong>
                </Trans>
                <Travel preload={preload} />.
              </>
            ) : (
              t`See the manual for the preload; none is entered for this engine.`
            )}
          </p>
          <ul>
            {positionsOf(
              crank.data,
              engine.valves.map((valve) => valve.id),
            ).map(({ mark, valves }) => {
              const left = valves.filter((valve) => !done.has(valve))
              return (
                <li key={mark} className="border-b border-rule px-4 py-2 last:border-0">
                  <Trans>
                    <strong>{mark}</strong>: {valves.length - left.length} of {valves.length}{' '}
                    preloaded
                  </Trans>
                  {left.length > 0 && left.length < valves.length && t`; left: ${left.join(' ')}`}
                </li>
              )
            })}
          </ul>
        </Sheet>
        <Sheet title={t`Cost of adjusting`}>
          <PriceLines engineId={engine.id} usage={visit.usage} />
        </Sheet>
      </div>
    </>
  )
}
