import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { BENCH_ADDRESS, stepAddress } from '@/api/addresses'
import { api, unwrap, type OrderedPart } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { day, today } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { mailText } from './orderMail'

const ordersQuery = queryOptions({
  queryKey: ['parts-on-order'],
  queryFn: () => unwrap(api.GET('/api/parts-on-order')),
  staleTime: 0,
})

/** What work waits for, by supplier: printed, sent, and ticked off when it comes. */
export function OrdersPage() {
  useTitle(t`Parts on order`)
  const { data: parts, error } = useQuery(ordersQuery)
  const sources = [...new Set(parts?.map((one) => one.source))]
  return (
    <div className="mx-auto max-w-[1000px]">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Parts on order`}</h1>
        <div className="no-print flex flex-wrap gap-2">
          {parts && parts.length > 0 && (
            <>
              <a href="/api/parts-on-order.pdf" className={buttonClass()}>
                {t`PDF`}
              </a>
              <a href="/api/parts-on-order.csv" download className={buttonClass()}>
                {t`CSV`}
              </a>
            </>
          )}
          <Link to={BENCH_ADDRESS} className={buttonClass('quiet')}>
            {t`Bench`}
          </Link>
        </div>
      </div>
      {error && <ErrorNotice error={error} />}
      {!parts && !error && <Loading what={t`the parts`} />}
      {parts?.length === 0 && (
        <Empty>
          {t`Nothing is on order. Shims are put on order at Adjust, other parts with the state of the work in the top line of a visit.`}
        </Empty>
      )}
      <div className="flex flex-col gap-4">
        {sources.map((source) => (
          <FromSource
            key={source}
            source={source}
            parts={parts?.filter((one) => one.source === source) ?? []}
          />
        ))}
      </div>
    </div>
  )
}

function FromSource({ source, parts }: { source: string; parts: OrderedPart[] }) {
  return (
    <Sheet
      title={source || t`Supplier not entered`}
      aside={
        <a
          className="no-print text-sm"
          href={`mailto:?subject=${encodeURIComponent(t`Order`)}&body=${encodeURIComponent(mailText(parts))}`}
        >
          {t`write a mail`}
        </a>
      }
    >
      <table className="cards-when-narrow w-full border-collapse">
        <thead>
          <tr className="border-b border-rule text-left text-sm text-ink-soft">
            {[t`Quantity`, t`Part`, t`For`, t`Ordered`, ''].map((head) => (
              <th key={head} className="px-4 py-2 font-normal">
                {head || <span className="sr-only">{t`Arrived`}</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {parts.map((one) => (
            <Line key={`${one.engine} ${one.visit} ${one.index}`} one={one} />
          ))}
        </tbody>
      </table>
    </Sheet>
  )
}

function Line({ one }: { one: OrderedPart }) {
  const queryClient = useQueryClient()
  const path = { engine_id: one.engine, visit_id: one.visit }
  const arrive = useMutation({
    mutationFn: async () => {
      const { progress } = await unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}', { params: { path } }),
      )
      // Only what this line shows: somebody may have changed the list meanwhile.
      const awaited = progress?.awaited?.map((part, index) =>
        index === one.index && part.what === one.what ? { ...part, arrived: today() } : part,
      )
      if (!progress || !awaited) return
      await unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/verification/progress', {
          params: { path },
          body: { progress: { ...progress, awaited }, was: progress },
        }),
      )
    },
    onSettled: () => {
      for (const queryKey of [['parts-on-order'], ['shim-box'], ['engines']])
        void queryClient.invalidateQueries({ queryKey })
    },
  })
  return (
    <tr className="border-b border-rule last:border-0">
      <td className="px-4 py-2" data-label={t`Quantity`}>
        {one.count}
      </td>
      <td className="px-4 py-2" data-label={t`Part`}>
        <strong>{one.what}</strong>
        {one.diameter_mm !== null && t`, diameter ${one.diameter_mm} mm`}
      </td>
      <td className="px-4 py-2" data-label={t`For`}>
        <Link to={stepAddress(one.engine, one.visit, 'adjust')}>
          <Trans>
            {one.name}, visit {one.visit}
          </Trans>
        </Link>
      </td>
      <td className="px-4 py-2" data-label={t`Ordered`}>
        {one.ordered ? day(one.ordered) : '–'}
      </td>
      <td className="no-print px-4 py-1" data-label={t`Arrived`}>
        <Button
          aria-label={t`${one.what} for ${one.name} arrived`}
          disabled={arrive.isPending}
          onClick={() => arrive.mutate()}
        >
          {t`Arrived`}
        </Button>
        {arrive.error && <ErrorNotice error={arrive.error} />}
      </td>
    </tr>
  )
}
