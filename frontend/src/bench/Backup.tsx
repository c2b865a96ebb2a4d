import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, unwrap, type ShopImport } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { named } from '@/design/names'

/** The zip goes as it is, with the engines that are passed over. */
const sent = (file: File, leaveOut: string[]) => ({
  body: file as unknown as string,
  bodySerializer: (body: unknown) => body as Blob,
  headers: { 'Content-Type': 'application/zip' },
  params: { query: { leave_out: leaveOut } },
})

/** The whole workshop as one file: saved, and imported after a check at what it would change. */
export function Backup() {
  const queryClient = useQueryClient()
  const [file, setFile] = useState<File>()
  const [leaveOut, setLeaveOut] = useState<string[]>([])
  const look = useMutation({
    mutationFn: (chosen: File) => unwrap(api.POST('/api/backup/preview', sent(chosen, []))),
  })
  const take = useMutation({
    mutationFn: (chosen: File) => unwrap(api.POST('/api/backup', sent(chosen, leaveOut))),
    onSuccess: () => {
      setFile(undefined)
      look.reset()
      void queryClient.invalidateQueries()
    },
  })
  const seen = file && look.data
  const blocked =
    seen !== undefined &&
    (seen.faults.length > 0 ||
      seen.engines.some((one) => one.state === 'refused' && !leaveOut.includes(one.id)))

  function choose(chosen: File) {
    setFile(chosen)
    setLeaveOut([])
    take.reset()
    look.mutate(chosen)
  }

  return (
    <Sheet title={t`Backup and transfer`}>
      <div className="flex flex-col gap-3 px-4 py-3">
        <p>
          {t`One file with every engine, the feeler gauge sets, the shim box, what was learned from closed cases, notes and photos: a zip that other programs can open. Keep a copy on another machine.`}
        </p>
        <div className="flex flex-wrap gap-2">
          <a href="/api/backup" download className={buttonClass()}>
            {t`Save a backup`}
          </a>
          <FileButton
            label={t`Backup file`}
            accept=".zip,application/zip"
            disabled={look.isPending}
            onFile={choose}
          >
            {t`Import a backup`}
          </FileButton>
        </div>
        {(look.isPending || take.isPending) && (
          <TakingProgress words={look.isPending ? t`Comparing with your data` : t`Importing`} />
        )}
        {look.error && <ErrorNotice error={look.error} />}
        {seen && (
          <>
            <Seen
              seen={seen}
              leaveOut={leaveOut}
              onLeaveOut={(id, out) =>
                setLeaveOut(out ? [...leaveOut, id] : leaveOut.filter((one) => one !== id))
              }
            />
            <Button
              look="main"
              disabled={blocked || take.isPending}
              onClick={() => take.mutate(file)}
            >
              {t`Import`}
            </Button>
            {blocked && (
              <p className="text-loose">
                {t`Everything is imported or nothing: fix the errors, or leave those engines out.`}
              </p>
            )}
          </>
        )}
        {take.error && <ErrorNotice error={take.error} />}
        {take.data && (
          <p role="status">
            <Trans>
              Imported; new or changed: {take.data.engines.length}, unchanged: {take.data.same}.
            </Trans>
          </p>
        )}
      </div>
    </Sheet>
  )
}

/** How far the server has come with a file, engine by engine. */
function TakingProgress({ words }: { words: string }) {
  const { data } = useQuery({
    queryKey: ['shop-file', 'progress'],
    queryFn: () => unwrap(api.GET('/api/backup/progress')),
    refetchInterval: 400,
    gcTime: 0,
  })
  const known = data !== undefined && data.total > 0
  return (
    <p role="status" className="flex items-center gap-3">
      <progress
        className="h-3 w-40 accent-accent"
        aria-label={t`engines in the file`}
        {...(known ? { value: data.done, max: data.total } : {})}
      />
      {words}
      {known ? t`: ${data.done} of ${data.total} engines.` : '…'}
    </p>
  )
}

function Seen({
  seen,
  leaveOut,
  onLeaveOut,
}: {
  seen: ShopImport
  leaveOut: string[]
  onLeaveOut: (id: string, out: boolean) => void
}) {
  const beside = [
    [seen.blade_sets, t`blade sets`],
    [seen.shim_sizes, t`sizes of shims`],
    [seen.lessons, t`closed cases to learn from`],
    [seen.notebook_entries, 'notes'],
    [seen.customers, 'customers'],
    [seen.photographs, 'photographs'],
    [seen.knowledge.length, t`knowledge files, used after the next start`],
  ].filter(([count]) => count !== 0)
  return (
    <div aria-label={t`What the import would change`} role="group">
      {seen.faults.map((fault) => (
        <p key={fault} className="text-tight">
          {fault}
        </p>
      ))}
      {seen.engines.length > 0 && (
        <table className="w-full border-collapse text-sm">
          <thead>
            <tr className="border-b border-ink text-left text-ink-soft">
              <th className="py-1 font-normal">{t`engine`}</th>
              <th className="py-1 font-normal">{t`is`}</th>
              <th className="py-1 font-normal">{t`brings`}</th>
              <th className="py-1 font-normal">{t`leave out`}</th>
            </tr>
          </thead>
          <tbody>
            {seen.engines.map((one) => (
              <tr key={one.id} className="border-b border-rule align-top">
                <th scope="row" className="py-1 text-left font-semibold">
                  {one.name}
                </th>
                <td className={`py-1 ${one.state === 'refused' ? 'font-semibold text-tight' : ''}`}>
                  {named(one.state)}
                  {one.faults.map((fault) => (
                    <p key={fault} className="font-normal">
                      {fault}
                    </p>
                  ))}
                </td>
                <td className="py-1">
                  <Trans>
                    {one.visits} visits, {one.cases} cases
                  </Trans>
                </td>
                <td className="py-1">
                  <input
                    type="checkbox"
                    className="size-6"
                    aria-label={t`Leave out ${one.name}`}
                    checked={leaveOut.includes(one.id)}
                    onChange={(event) => onLeaveOut(one.id, event.target.checked)}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p>
        <Trans>{seen.same} engines are identical here</Trans>
        {beside.length > 0 &&
          t`; also new: ${beside.map(([count, what]) => `${count} ${what}`).join(', ')}`}
        .
      </p>
      {seen.knowledge_not_taken.length > 0 && (
        <p>
          <Trans>Your own knowledge files are kept: {seen.knowledge_not_taken.join(', ')}.</Trans>
        </p>
      )}
    </div>
  )
}
