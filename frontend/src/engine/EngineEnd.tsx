import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { api, unwrap, type Engine } from '@/api/client'
import { engineQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { day } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { DeleteButton } from '@/shared/DeleteButton'

function useArchiving(engineId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: (archived: boolean) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/archived', {
          params: { path: { engine_id: engineId } },
          body: { archived },
        }),
      ),
    onSuccess: (detail) => {
      queryClient.setQueryData(engineQuery(engineId).queryKey, detail)
      void queryClient.invalidateQueries({ queryKey: ['engines'] })
    },
  })
}

/** That an engine is not looked after any more, and the way back. */
export function ArchivedNotice({ engine }: { engine: Engine }) {
  const archiving = useArchiving(engine.id)
  if (!engine.archived) return null
  return (
    <div
      role="status"
      className="mb-3 flex flex-wrap items-center gap-3 border-l-6 border-accent bg-sheet px-4 py-2"
    >
      <span>
        <Trans>
          Archived since {day(engine.archived)}: not on the workshop page, not in the calendar.
        </Trans>
      </span>
      <Button disabled={archiving.isPending} onClick={() => archiving.mutate(false)}>
        {t`Bring back`}
      </Button>
      {archiving.error && <ErrorNotice error={archiving.error} />}
    </div>
  )
}

/** The end of an engine's time in the workshop: archived, or deleted. */
export function EngineEnd({ engine }: { engine: Engine }) {
  const archiving = useArchiving(engine.id)
  const navigate = useNavigate()
  return (
    <div className="no-print flex flex-wrap gap-2">
      {!engine.archived && (
        <Button look="quiet" disabled={archiving.isPending} onClick={() => archiving.mutate(true)}>
          {t`Archive engine`}
        </Button>
      )}
      <DeleteButton
        label={t`Delete engine`}
        engineId={engine.id}
        kind="engine"
        onDeleted={() => void navigate('/')}
      />
      {archiving.error && <ErrorNotice error={archiving.error} />}
    </div>
  )
}
