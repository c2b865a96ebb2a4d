import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { BENCH_ADDRESS, engineDataAddress } from '@/api/addresses'
import type { Price } from '@/api/client'
import { priceQuery } from '@/api/queries'
import { chance, fixed } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'

/** So many minutes, to the nearest five: nobody knows them better. */
function minutes(value: number): string {
  const rounded = Math.round(value / 5) * 5
  return rounded < 60
    ? `${rounded} min`
    : `${Math.floor(rounded / 60)} h ${rounded % 60 === 0 ? '' : `${rounded % 60} min`}`.trim()
}

function cost(value: number | null, currency: string): string {
  return value === null ? '' : `, ${fixed(value, 0)} ${currency}`.trimEnd()
}

/** What a check costs, what one with setting costs, and how likely the second is. */
export function PriceLines({ engineId, usage }: { engineId: string; usage?: number }) {
  const { data: price, error } = useQuery(priceQuery(engineId, usage))
  if (!price) return error ? <ErrorNotice error={error} /> : <Loading what={t`the cost`} />
  return (
    <div className="px-4 py-2">
      <dl className="grid grid-cols-[auto_1fr] gap-x-4">
        <dt className="text-ink-soft">{t`check only`}</dt>
        <dd className="font-semibold">
          {minutes(price.check_minutes)}
          {cost(price.check_cost, price.currency)}
        </dd>
        <dt className="text-ink-soft">{t`check and adjust`}</dt>
        <dd>
          {price.set_minutes === null ? (
            t`not known before the first check`
          ) : (
            <>
              <Trans>
                <strong>
                  {minutes(price.set_minutes)}
                  {cost(price.set_cost, price.currency)}
                </strong>
                , for about {Math.max(1, Math.round(price.valves_to_set ?? 1))} of {price.valves}{' '}
                valves
              </Trans>
            </>
          )}
        </dd>
        <dt className="text-ink-soft">{t`chance of adjusting`}</dt>
        <dd className="font-semibold">
          {price.p_set === null ? t`not known` : chance(price.p_set)}
        </dd>
      </dl>
      <p className="mt-1 text-sm text-ink-soft">
        <Basis price={price} engineId={engineId} />
      </p>
    </div>
  )
}

function Basis({ price, engineId }: { price: Price; engineId: string }) {
  return (
    <>
      {price.access_is_known ? (
        t`Access ${price.access_minutes} min`
      ) : (
        <>
          <Trans>
            Access assumed to take {price.access_minutes} min,{' '}
            <Link to={engineDataAddress(engineId)}>not entered</Link>
          </Trans>
        </>
      )}
      {price.check_cost === null && (
        <>
          <Trans>
            ; no cost without the <Link to={BENCH_ADDRESS}>labour rate</Link>
          </Trans>
        </>
      )}
      {price.p_set !== null &&
        t`; the chance is based on ${price.predicted} of ${price.valves} valves.`}
    </>
  )
}
