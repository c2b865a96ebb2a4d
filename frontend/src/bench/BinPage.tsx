import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { BENCH_ADDRESS } from '@/api/addresses'
import { api, unwrap, type InBin } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { day, moment } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { useTitle } from '@/design/useTitle'
import { useIsOwner } from '@/people/session'
import { heldWords } from '@/shared/heldWords'

const binQuery = queryOptions({
  queryKey: ['bin'],
  queryFn: () => unwrap(api.GET('/api/bin')),
  staleTime: 0,
})

/** What was deleted in the last 30 days. */
export function BinPage() {
  useTitle(t`Bin`)
  const { data: things, error } = useQuery(binQuery)
  return (
    <div className="mx-auto max-w-[1000px]">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Bin`}</h1>
        <Link to={BENCH_ADDRESS} className={buttonClass('quiet')}>
          {t`Bench`}
        </Link>
      </div>
      <p className="mb-3">
        {t`What was deleted stays here for 30 days and is restored whole. It counts nowhere meanwhile, and backups leave it out.`}
      </p>
      {error && <ErrorNotice error={error} />}
      {!things && !error && <Loading what={t`the bin`} />}
      {things?.length === 0 && <Empty>{t`Nothing was deleted in the last 30 days.`}</Empty>}
      {things && things.length > 0 && (
        <ul className="border border-rule bg-sheet">
          {things.map((one) => (
            <Thing key={one.id} one={one} />
          ))}
        </ul>
      )}
    </div>
  )
}

function Thing({ one }: { one: InBin }) {
  const owner = useIsOwner()
  const [sure, setSure] = useState(false)
  const queryClient = useQueryClient()
  const stored = (things: InBin[]) => {
    queryClient.setQueryData(binQuery.queryKey, things)
    return queryClient.invalidateQueries({ queryKey: ['engines'] })
  }
  const path = { params: { path: { removal_id: one.id } } }
  const restore = useMutation({
    mutationFn: () => unwrap(api.POST('/api/bin/{removal_id}/restored', path)),
    onSuccess: stored,
  })
  const remove = useMutation({
    mutationFn: () => unwrap(api.DELETE('/api/bin/{removal_id}', path)),
    onSuccess: stored,
  })
  const error = restore.error ?? remove.error
  const held =
    one.holds && (one.kind === 'engine' || one.kind === 'visit' || one.kind === 'case')
      ? heldWords(one.holds, one.kind)
      : ''
  return (
    <li className="border-b border-rule px-4 py-3 last:border-0">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <div className="min-w-60 flex-1">
          <p>
            <strong className="inline-block first-letter:uppercase">{one.name}</strong>
            {held && t`, with ${held}`}
          </p>
          <p className="text-sm text-ink-soft">
            <Trans>deleted {moment(one.removed_at)}</Trans>
            {one.person && t` by ${one.person}`}
            <Trans>, for good on {day(one.until.slice(0, 10))}</Trans>
          </p>
        </div>
        {one.waits_for ? (
          <span className="text-sm">
            <Trans>restore {one.waits_for} first</Trans>
          </span>
        ) : (
          <Button
            aria-label={t`Restore ${one.name}`}
            disabled={restore.isPending}
            onClick={() => restore.mutate()}
          >
            {t`Restore`}
          </Button>
        )}
        {owner && (
          <Button
            look="quiet"
            aria-label={t`Delete ${one.name} for good`}
            disabled={remove.isPending}
            onClick={() => (sure ? remove.mutate() : setSure(true))}
          >
            {sure ? t`Confirm: never to be restored` : t`delete for good`}
          </Button>
        )}
      </div>
      {error && <ErrorNotice error={error} />}
    </li>
  )
}
