import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, ProblemError, restOf, unwrap, type Copies } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { day } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'

/** A copy that is older than this is said to be too old. */
const TOO_OLD_DAYS = 7
const MS_PER_DAY = 86_400_000
const COPIES = ['copies']

/** When the last full copy was made, said loudly where that is long ago; and one for every day. */
export function FullCopies() {
  const copies = useQuery({
    queryKey: COPIES,
    queryFn: () => unwrap(api.GET('/api/backup/copies')),
  })
  if (!copies.data) return copies.error ? <ErrorNotice error={copies.error} /> : null
  return (
    <Sheet title={t`Full copies`}>
      <div className="flex flex-col gap-3 px-4 py-3">
        <LastCopy copies={copies.data} />
        <Daily key={copies.data.daily?.folder ?? ''} copies={copies.data} />
      </div>
    </Sheet>
  )
}

function LastCopy({ copies: { last, daily, fault } }: { copies: Copies }) {
  const [now] = useState(() => Date.now())
  const days = last ? Math.floor((now - Date.parse(last.made_at)) / MS_PER_DAY) : undefined
  if (fault) {
    return (
      <p className="border-l-4 border-loose pl-3" role="alert">
        <strong>{t`The daily copy failed:`}</strong> {fault}
      </p>
    )
  }
  if (last && days !== undefined && days <= TOO_OLD_DAYS) {
    return (
      <p>
        <Trans>
          Last full copy: {day(last.made_at.slice(0, 10))}, in {last.folder}.
        </Trans>
      </p>
    )
  }
  return (
    <p className="border-l-4 border-doubt pl-3">
      <strong>
        {days === undefined
          ? t`No full copy has been made yet.`
          : t`The last full copy is ${days} days old.`}
      </strong>{' '}
      {daily
        ? t`One will be made within a minute or two.`
        : t`Choose a folder below, best on another disk; copies are made while people work.`}
    </p>
  )
}

function Daily({ copies: { daily } }: { copies: Copies }) {
  const queryClient = useQueryClient()
  const [folder, setFolder] = useState(daily?.folder ?? '')
  const [hour, setHour] = useState(String(daily?.hour ?? 2))
  const set = useMutation({
    mutationFn: (body: { folder: string; hour: number }) =>
      unwrap(api.PUT('/api/backup/daily-copy', { body })),
    onSuccess: (kept) => queryClient.setQueryData(COPIES, kept),
  })
  const stop = useMutation({
    mutationFn: () => unwrap(api.DELETE('/api/backup/daily-copy')),
    onSuccess: (kept) => queryClient.setQueryData(COPIES, kept),
  })
  const refused = set.error instanceof ProblemError ? set.error : undefined
  const rest = restOf(set.error, ['$.folder', '$.hour'])

  function submit(event: FormEvent) {
    event.preventDefault()
    set.mutate({ folder: folder.trim(), hour: typedFigure(hour) ?? -1 })
  }

  return (
    <form onSubmit={submit} noValidate className="grid grid-cols-[1fr_9rem] gap-x-5 gap-y-3">
      <Field
        label={t`Full copy every day, into the folder`}
        value={folder}
        hint={t`a path on the machine that runs this; the last 7 days, 4 weeks and 12 months are kept`}
        onChange={(event) => setFolder(event.target.value)}
        fault={refused?.at('$.folder')}
      />
      <Field
        label={t`From`}
        unit={t`o'clock`}
        inputMode="numeric"
        value={hour}
        onChange={(event) => setHour(event.target.value)}
        fault={refused?.at('$.hour')}
      />
      <div className="col-span-2 flex flex-wrap items-center gap-4">
        <Button type="submit" disabled={set.isPending}>
          {daily ? t`Save` : t`Copy every day`}
        </Button>
        {daily && (
          <Button disabled={stop.isPending} onClick={() => stop.mutate()}>
            {t`No daily copies`}
          </Button>
        )}
        {set.isSuccess && daily && <span role="status">{t`saved`}</span>}
        {rest && <ErrorNotice error={rest} />}
        {stop.error && <ErrorNotice error={stop.error} />}
      </div>
    </form>
  )
}
