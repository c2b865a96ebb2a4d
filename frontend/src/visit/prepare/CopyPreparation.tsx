import { t } from '@lingui/core/macro'
import { ErrorNotice } from '@/design/Notice'
import { useCopiedPreparation } from '@/shared/visitQueries'

/** Fills in what is not entered yet as it was at the visit before. */
export function CopyPreparation({ engineId, visitId }: { engineId: string; visitId: string }) {
  const copy = useCopiedPreparation(engineId, visitId)
  return (
    <span className="no-print">
      {copy.error && <ErrorNotice error={copy.error} />}
      <button
        type="button"
        className="min-h-11 text-sm text-accent underline md:min-h-0"
        disabled={copy.isPending}
        onClick={() => copy.mutate()}
      >
        {copy.isSuccess ? t`copied from the last visit` : t`copy from the last visit`}
      </button>
    </span>
  )
}
