import { t } from '@lingui/core/macro'
import { useState } from 'react'
import type { Visit } from '@/api/client'
import { Button } from '@/design/Button'
import { day } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Popup } from '@/design/Popup'
import { useProgress, WORK_OPEN } from '@/shared/progressQueries'
import { WORK_STATES } from '@/shared/workStates'
import { WorkStateForm } from './WorkStateForm'

/** How far the work is, in a few words; pressed, it is said otherwise. */
export function WorkState({ engineId, visit }: { engineId: string; visit: Visit }) {
  const [open, setOpen] = useState(false)
  const keep = useProgress(engineId, visit)
  return (
    <>
      <button
        type="button"
        className="min-h-11 text-accent underline md:min-h-0"
        aria-label={t`State of the work: ${wordsOf(visit.progress)}`}
        onClick={() => setOpen(true)}
      >
        {wordsOf(visit.progress)}
      </button>
      {open && (
        <Popup title={t`State of the work`} onClose={() => setOpen(false)}>
          <WorkStateForm
            progress={visit.progress ?? WORK_OPEN}
            began={visit.date}
            error={keep.error}
            pending={keep.isPending}
            onKeep={(progress) => keep.mutate(progress, { onSuccess: () => setOpen(false) })}
          />
        </Popup>
      )}
    </>
  )
}

function wordsOf(progress: Visit['progress']): string {
  if (!progress) return t`state not entered`
  const words = WORK_STATES[progress.state]
  if (progress.state === 'done') return progress.ended ? `${words} ${day(progress.ended)}` : words
  return progress.promised ? t`${words}, promised for ${day(progress.promised)}` : words
}

/** Ends the work of a visit, today. */
export function WorkDone({ engineId, visit }: { engineId: string; visit: Visit }) {
  const keep = useProgress(engineId, visit)
  if (visit.progress?.state === 'done') return null
  return (
    <>
      <Button
        disabled={keep.isPending}
        onClick={() => keep.mutate({ ...WORK_OPEN, ...visit.progress, state: 'done', ended: null })}
      >
        {t`Mark work as done`}
      </Button>
      {keep.error && <ErrorNotice error={keep.error} />}
    </>
  )
}
