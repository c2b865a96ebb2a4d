import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useInfiniteQuery, useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { BENCH_ADDRESS, changesAddress, engineAddress } from '@/api/addresses'
import { api, unwrap, type Change } from '@/api/client'
import { engineQuery } from '@/api/queries'
import { Button, buttonClass } from '@/design/Button'
import { moment } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { useTitle } from '@/design/useTitle'
import { enteredText } from './enteredText'

/** Who changed what at an engine. */
export function EngineChangesPage() {
  const { engineId = '' } = useParams()
  const { data } = useQuery(engineQuery(engineId))
  const name = data?.engine.name ?? engineId
  return (
    <Changes
      engineId={engineId}
      title={t`Who changed what: ${name}`}
      back={{ to: engineAddress(engineId), label: t`Engine` }}
      file={`/api${changesAddress(engineId)}.csv`}
    />
  )
}

/** The same of the whole workshop. */
export function AllChangesPage() {
  return (
    <Changes
      title={t`Who changed what`}
      back={{ to: BENCH_ADDRESS, label: t`Bench` }}
      file="/api/changes.csv"
    />
  )
}

function Changes({
  engineId,
  title,
  back,
  file,
}: {
  engineId?: string
  title: string
  back: { to: string; label: string }
  file: string
}) {
  useTitle(title)
  const trail = useInfiniteQuery({
    queryKey: ['changes', engineId ?? null],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam: before }) =>
      unwrap(
        engineId === undefined
          ? api.GET('/api/changes', { params: { query: { before } } })
          : api.GET('/api/engines/{engine_id}/changes', {
              params: { path: { engine_id: engineId }, query: { before } },
            }),
      ),
    getNextPageParam: (last) => last.before ?? undefined,
  })
  const changes = trail.data?.pages.flatMap((page) => page.changes) ?? []
  return (
    <div className="mx-auto max-w-[1400px]">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{title}</h1>
        <div className="flex flex-wrap gap-2">
          <a href={file} download className={buttonClass()}>
            {t`Export as CSV`}
          </a>
          <Link to={back.to} className={buttonClass('quiet')}>
            {back.label}
          </Link>
        </div>
      </div>
      {trail.error && <ErrorNotice error={trail.error} />}
      {trail.isPending && <Loading what={t`the changes`} />}
      {trail.data && changes.length === 0 && (
        <Empty>
          {t`Nothing was changed since the application began to note who changes what.`}
        </Empty>
      )}
      {changes.length > 0 && <ChangeTable changes={changes} whole={engineId === undefined} />}
      {trail.hasNextPage && (
        <Button
          className="mt-3"
          onClick={() => void trail.fetchNextPage()}
          disabled={trail.isFetchingNextPage}
        >
          {t`Show earlier changes`}
        </Button>
      )}
    </div>
  )
}

function ChangeTable({ changes, whole }: { changes: Change[]; whole: boolean }) {
  return (
    <table className="cards-when-narrow w-full border border-rule bg-sheet">
      <thead>
        <tr>
          {[t`When`, t`Who`, t`Device`, t`Change`, whole ? t`Where` : t`Entered`].map((head) => (
            <th key={head} scope="col" className="px-3 py-2 text-left">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {changes.map((one) => (
          <tr key={one.id} className="border-t border-rule align-top">
            <td data-label={t`When`} className="px-3 py-1.5 whitespace-nowrap">
              {moment(one.at)}
            </td>
            <td data-label={t`Who`} className="px-3 py-1.5">
              {one.person ?? <span className="text-ink-soft">{t`not said`}</span>}
            </td>
            <td data-label={t`Device`} className="px-3 py-1.5">
              {one.device}
            </td>
            <td data-label={t`Change`} className="px-3 py-1.5">
              {one.change}
            </td>
            <td
              data-label={whole ? t`Where` : t`Entered`}
              className="max-w-xl px-3 py-1.5 text-sm wrap-anywhere"
            >
              {whole
                ? decodeURIComponent(one.place.replace('/api', ''))
                : one.sent === null
                  ? lastStep(one)
                  : enteredText(one.sent)}
              {one.earlier !== null && (
                <p className="text-ink-soft">
                  <Trans>before: {enteredText(one.earlier)}</Trans>
                </p>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** What it was at, where nothing came with it. */
function lastStep(change: Change): string {
  return decodeURIComponent(change.place.split('/').slice(4).join('/'))
}
