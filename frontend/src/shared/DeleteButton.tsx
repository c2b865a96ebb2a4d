import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, newId, unwrap, type BeforeRemoval, type RemovalKind } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Popup } from '@/design/Popup'
import { heldWords } from './heldWords'

type What = { engineId: string; kind: RemovalKind; part?: string }

/** Deletes an engine, a visit or a case into the bin, after saying what goes with it. */
export function DeleteButton({
  label,
  onDeleted,
  ...what
}: What & { label: string; onDeleted: () => void }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button look="quiet" onClick={() => setOpen(true)}>
        {label}
      </Button>
      {open && (
        <Popup title={label} onClose={() => setOpen(false)}>
          <Deletion
            {...what}
            onCancel={() => setOpen(false)}
            onDeleted={() => {
              setOpen(false)
              onDeleted()
            }}
          />
        </Popup>
      )}
    </>
  )
}

/** What would be deleted, and the deletion. */
export function Deletion({
  engineId,
  kind,
  part,
  onCancel,
  onDeleted,
}: What & { onCancel: () => void; onDeleted: () => void }) {
  const before = useQuery({
    queryKey: ['removal', engineId, kind, part ?? null],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/removals/before', {
          params: { path: { engine_id: engineId }, query: { kind, part } },
        }),
      ),
    staleTime: 0,
  })
  // Made once, so that sending it twice deletes once.
  const [id] = useState(newId)
  const queryClient = useQueryClient()
  const remove = useMutation({
    mutationFn: () =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/removals/{removal_id}', {
          params: { path: { engine_id: engineId, removal_id: id } },
          body: { kind, part },
        }),
      ),
    onSuccess: () => {
      onDeleted()
      void queryClient.invalidateQueries({ queryKey: ['engines'] })
      void queryClient.invalidateQueries({ queryKey: ['bin'] })
    },
  })
  if (!before.data) {
    return before.error ? <ErrorNotice error={before.error} /> : <Loading what={t`what it holds`} />
  }
  return (
    <div className="flex flex-col gap-3">
      <BeforeText before={before.data} kind={kind} />
      <p>
        {t`It stays in the bin for 30 days (on the Bench) and can be restored whole until then. After that it is deleted for good.`}
      </p>
      {remove.error && <ErrorNotice error={remove.error} />}
      <div className="flex gap-2">
        <Button look="main" disabled={remove.isPending} onClick={() => remove.mutate()}>
          {t`Delete`}
        </Button>
        <Button onClick={onCancel}>{t`Cancel`}</Button>
      </div>
    </div>
  )
}

function BeforeText({ before, kind }: { before: BeforeRemoval; kind: RemovalKind }) {
  const held = heldWords(before.holds, kind)
  return (
    <>
      <p>
        <strong className="inline-block first-letter:uppercase">{before.name}</strong>{' '}
        {held === ''
          ? t`is deleted. Nothing else hangs on it.`
          : t`is deleted, and with it ${held}.`}
      </p>
      {before.cases_resting.length > 0 && (
        <p>
          <Trans>
            Case {before.cases_resting.join(', ')} was opened at this visit. It stays, and no longer
            counts what was measured and found here.
          </Trans>
        </p>
      )}
    </>
  )
}
