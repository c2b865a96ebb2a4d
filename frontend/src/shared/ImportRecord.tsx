import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { engineAddress } from '@/api/addresses'
import { api, unwrap, type RecordChange } from '@/api/client'
import { Button } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { usage } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'

/** The text goes as it is: broken JSON is told by line and column. */
const sent = (text: string) => ({
  body: text as unknown as Record<string, never>,
  bodySerializer: (body: unknown) => body as string,
  headers: { 'Content-Type': 'application/json' },
})

/** Bring in an engine from a record file: looked at first, then all of it or nothing. */
export function ImportRecord() {
  const navigate = useNavigate()
  const queryClient = useQueryClient()
  const [text, setText] = useState('')
  const look = useMutation({
    mutationFn: async (file: File) => {
      const read = await file.text()
      setText(read)
      return unwrap(api.POST('/api/records/preview', sent(read)))
    },
  })
  const take = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST('/api/records', { ...sent(text), params: { query: { into_existing: true } } }),
      ),
    onSuccess: async (detail) => {
      look.reset()
      await queryClient.invalidateQueries()
      await navigate(engineAddress(detail.engine.id))
    },
  })
  function leave() {
    look.reset()
    take.reset()
  }
  return (
    <div className="flex flex-col items-end gap-2">
      <FileButton
        label={t`Record file`}
        accept=".json,application/json"
        disabled={look.isPending}
        onFile={(file) => look.mutate(file)}
      >
        {look.isPending ? t`Reading the record…` : t`Import`}
      </FileButton>
      {look.error && <ErrorNotice error={look.error} />}
      <Dialog open={look.data !== undefined} onClose={leave} className="relative z-20">
        <div className="fixed inset-0 bg-ink/40" aria-hidden="true" />
        <div className="fixed inset-0 flex items-start justify-center overflow-y-auto p-6">
          <DialogPanel className="w-full max-w-2xl border-2 border-ink bg-paper p-6">
            {look.data && (
              <Seen
                seen={look.data}
                pending={take.isPending}
                onTake={() => take.mutate()}
                onLeave={leave}
              />
            )}
            {take.error && <ErrorNotice error={take.error} />}
          </DialogPanel>
        </div>
      </Dialog>
    </div>
  )
}

const HEADS: Record<RecordChange['state'], (name: string) => string> = {
  new: (name) => t`${name} is new`,
  changed: (name) => t`${name} exists; new in this file`,
  same: (name) => t`${name} is identical here`,
  refused: (name) => t`${name} differs from yours`,
}

function Seen({
  seen,
  pending,
  onTake,
  onLeave,
}: {
  seen: RecordChange
  pending: boolean
  onTake: () => void
  onLeave: () => void
}) {
  const blocked = seen.state === 'refused' || seen.state === 'same'
  return (
    <>
      <DialogTitle className="text-xl font-bold">{HEADS[seen.state](seen.name)}</DialogTitle>
      {seen.faults.length > 0 && (
        <ul role="alert" className="mt-2 list-disc pl-5 text-tight">
          {seen.faults.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
      )}
      {!blocked && (
        <ul className="mt-2 list-disc pl-5">
          {seen.data.length > 0 && (
            <li>
              <Trans>engine data: {seen.data.join(', ').replaceAll('_', ' ')}</Trans>
            </li>
          )}
          <li>
            <Trans>
              visits:{' '}
              {seen.visits.length === 0
                ? t`none`
                : seen.visits
                    .map((one) => `${one.id} (${one.date}, ${usage(one.usage, '')})`)
                    .join(', ')}
            </Trans>
          </li>
          <li>
            {t`cases:`} {seen.cases.join(', ') || t`none`}
          </li>
        </ul>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button look="quiet" onClick={onLeave}>
          {t`Cancel`}
        </Button>
        {!blocked && (
          <Button look="main" onClick={onTake} disabled={pending}>
            {t`Import`}
          </Button>
        )}
      </div>
    </>
  )
}
