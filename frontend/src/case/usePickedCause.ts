import { useMemo } from 'react'
import type { Cause, Diagnosis } from '@/api/client'
import { causeKey } from './CauseList'
import { evidenceRows, shownCauses } from './evidence'

const WORTH_A_THREAD = 0.05

/** The cause that is looked at, the most likely one until another is picked, and what speaks for it. */
export function usePickedCause(diagnosis: Diagnosis, picked: string | undefined) {
  const shown = useMemo(() => shownCauses(diagnosis), [diagnosis])
  const chosen: Cause | undefined =
    diagnosis.causes.find((cause) => causeKey(cause) === picked) ?? diagnosis.causes[0]
  const rows = useMemo(
    () => evidenceRows(chosen && !shown.includes(chosen) ? [...shown, chosen] : shown, chosen),
    [shown, chosen],
  )
  const likely = (chosen?.probability ?? 0) >= 0.05
  const marked = useMemo(() => new Set(chosen?.valves ?? []), [chosen])
  // Until a cause is chosen the threads of all that are likely at all are drawn, pale.
  const alone = picked === undefined ? undefined : chosen && causeKey(chosen)
  const threaded = useMemo(
    () =>
      new Set(
        alone === undefined
          ? shown.filter((cause) => cause.probability >= WORTH_A_THREAD).map(causeKey)
          : [alone],
      ),
    [shown, alone],
  )

  return { shown, chosen, rows, likely, marked, alone, threaded }
}
