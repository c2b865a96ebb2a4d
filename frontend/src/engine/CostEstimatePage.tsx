import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { BENCH_ADDRESS, engineAddress } from '@/api/addresses'
import { api, unwrap, type CostEstimate, type EngineDetail } from '@/api/client'
import { engineQuery } from '@/api/queries'
import { Button, buttonClass } from '@/design/Button'
import { chance, day, today } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { MoneyTable } from '@/shared/MoneyTable'
import { estimateMail } from './estimateMail'

/** What the next check costs, alone and with adjustment: to be printed, or written as a mail. */
export function CostEstimatePage() {
  const { engineId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const estimate = useQuery({
    queryKey: ['engines', engineId, 'cost-estimate'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/cost-estimate', {
          params: { path: { engine_id: engineId } },
        }),
      ),
  })
  useTitle(t`Estimate: ${engine.data?.engine.name ?? engineId}`)
  const error = engine.error ?? estimate.error
  if (!engine.data || !estimate.data) {
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the estimate`} />
  }
  return <Estimate detail={engine.data} estimate={estimate.data} />
}

function Estimate({ detail, estimate }: { detail: EngineDetail; estimate: CostEstimate }) {
  const { engine, customer, identity } = detail
  const name = engine.name ?? engine.id
  const noRate = estimate.check.lines.some((one) => one.what === 'labour' && one.each === null)
  const mail = `mailto:${customer?.email ?? ''}?subject=${encodeURIComponent(t`Estimate: ${name}`)}&body=${encodeURIComponent(estimateMail(name, estimate))}`
  return (
    <div className="mx-auto max-w-[900px]">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>
          <Trans>Estimate: {name}</Trans>
        </h1>
        <div className="no-print flex flex-wrap gap-2">
          <Button onClick={() => window.print()}>{t`Print`}</Button>
          <a href={mail} className={buttonClass()}>
            {t`Write a mail`}
          </a>
          <Link to={engineAddress(engine.id)} className={buttonClass('quiet')}>
            {t`Engine`}
          </Link>
        </div>
      </div>
      <p className="mb-3">{[identity, customer?.name, day(today())].filter(Boolean).join('; ')}</p>
      {noRate && (
        <p className="mb-3 border-l-6 border-loose bg-sheet px-4 py-2">
          <Trans>
            No labour rate is entered: the sums are without labour. It is set{' '}
            <Link to={BENCH_ADDRESS}>on the Bench</Link>.
          </Trans>
        </p>
      )}
      <div className="grid grid-cols-1 gap-4 md:grid-cols-2">
        {[estimate.check, estimate.check_and_adjust].map(
          (money) =>
            money && (
              <Sheet key={money.title} title={money.title}>
                <div className="px-4 py-2">
                  <MoneyTable money={money} />
                </div>
              </Sheet>
            ),
        )}
      </div>
      <p className="mt-3">
        <Trans>
          {estimate.p_set === null
            ? t`Whether adjusting will be needed is not known before the first check.`
            : t`That adjusting will be needed is ${chance(estimate.p_set)}, from the readings so far.`}{' '}
          What turns out to be worn or broken is named before it is replaced.
        </Trans>
      </p>
    </div>
  )
}
