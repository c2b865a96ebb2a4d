import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { causeAddress } from '@/api/addresses'
import type { Developing as Known } from '@/api/client'
import { developingFaultsQuery } from '@/api/queries'
import {
  chance,
  sdText,
  movement,
  percent,
  sinkOrWear,
  type LengthUnit,
  fixed,
} from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'

type Coming = Known['coming'][number]

/** What is developing without anybody complaining, and what is likely out before the next check. */
export function DevelopingFaults({ engineId, unit }: { engineId: string; unit: LengthUnit }) {
  const known = useQuery(developingFaultsQuery(engineId))
  if (!known.data) {
    return known.error ? (
      <ErrorNotice error={known.error} />
    ) : (
      <Sheet title={t`Developing faults`}>
        <Loading what={t`developing faults`} />
      </Sheet>
    )
  }
  const { coming, p_any_out, p_fault, valves } = known.data
  if (p_any_out === null) return null
  return (
    <Sheet
      title={t`Developing faults`}
      aside={<span className="text-sm text-ink-soft">{t`from the readings alone`}</span>}
    >
      {coming.length === 0 && (
        <p className="px-4 pt-2">
          {t`The readings point to no fault`}
          {p_fault !== null && (
            <>
              {' '}
              <Trans>(any fault: {percent(p_fault)})</Trans>
            </>
          )}
          .
        </p>
      )}
      {coming.map((one) => (
        <Cause key={`${one.cause.cause} ${one.cause.where}`} coming={one} unit={unit} />
      ))}
      <p className="px-4 py-2">
        <Trans>
          Chance of being out of spec one check interval from now, with no adjustment: any valve{' '}
          {chance(p_any_out)}
        </Trans>
        {valves.length > 0 && (
          <>; {valves.map((one) => `${one.valve} ${percent(one.p_out)}`).join(', ')}</>
        )}
        .
      </p>
    </Sheet>
  )
}

function Cause({
  coming: { cause, valves, thread_is_not_known },
  unit,
}: {
  coming: Coming
  unit: LengthUnit
}) {
  const byShim = valves.some((one) => one.shim_intervals_left !== null)
  const closing = valves.some((one) => one.drift_mm_per_interval < 0)
  return (
    <div className="border-b border-rule px-4 py-2">
      <p className="flex flex-wrap justify-between gap-x-3">
        <span>
          <Link to={causeAddress(cause.cause)} className="font-semibold">
            {cause.label}
          </Link>
          , {cause.where}
        </span>
        <span>{chance(cause.probability)}</span>
      </p>
      {cause.caution && <p className="font-semibold text-loose">{cause.caution}</p>}
      <p>{cause.advice}</p>
      {valves.length > 0 && (
        <table className="mt-1 w-full border-collapse text-sm">
          <thead>
            <tr className="border-b border-ink text-left text-ink-soft">
              <th className="py-0.5 pr-3 font-normal">{t`valve`}</th>
              <th className="py-0.5 pr-3 font-normal">{t`valve sink or wear to date`}</th>
              <th className="py-0.5 pr-3 font-normal">{t`per interval`}</th>
              {byShim && <th className="py-0.5 pr-3 font-normal">{t`shim range left`}</th>}
            </tr>
          </thead>
          <tbody>
            {valves.map((one) => (
              <tr key={one.valve}>
                <th scope="row" className="py-0.5 pr-3 text-left font-semibold">
                  {one.valve}
                </th>
                <td>
                  {one.sink_mm === null || one.sink_sd_mm === null
                    ? t`not known`
                    : sinkOrWear(one.sink_mm, one.sink_sd_mm, unit)}
                </td>
                <td>
                  {movement(one.drift_mm_per_interval, unit)} ±{' '}
                  {sdText(one.drift_sd_mm_per_interval, unit)}
                </td>
                {byShim && (
                  <td>
                    {one.shim_intervals_left === null
                      ? '–'
                      : t`${fixed(one.shim_intervals_left, 1)} intervals`}
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {thread_is_not_known && closing && (
        <p className="text-sm text-ink-soft">
          {t`Check at the adjuster how much thread is left: one that stands lower than the others runs out first.`}
        </p>
      )}
    </div>
  )
}
