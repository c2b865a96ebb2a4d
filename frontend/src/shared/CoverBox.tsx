import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { ErrorNotice } from '@/design/Notice'
import { useNoteCover, visitQuery } from './visitQueries'

/** Whether the valve cover is off: its access is counted once, not for every test under it. */
export function CoverBox({ engineId, visitId }: { engineId: string; visitId: string }) {
  const { data: visit } = useQuery(visitQuery(engineId, visitId))
  const note = useNoteCover(engineId, visitId)
  if (!visit) return null
  return (
    <>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-6"
          checked={visit.cover_off}
          disabled={note.isPending}
          onChange={(event) => note.mutate(event.target.checked)}
        />
        {t`The valve cover is off`}
      </label>
      {note.error && <ErrorNotice error={note.error} />}
    </>
  )
}
