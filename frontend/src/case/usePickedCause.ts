import { useMemo } from 'react'
import type { Cause, Diagnosis } from '@/api/client'
import { causeKey } from './CauseList'
import { evidenceRows, shownCauses } from './evidence'

const WORTH_A_THREAD = 0.05

/** The cause that is looked at, the most likely one until another is picked, and its evidence. */
export function usePickedCause(diagnosis: Diagnosis, picked: string | undefined) {
  const listed = useMemo(() => shownCauses(diagnosis), [diagnosis])
  const shown = useMemo(() => listed.map((one) => one.cause), [listed])
  const chosen: Cause | undefined =
    diagnosis.causes.find((cause) => causeKey(cause) === picked) ?? shown[0]
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
          ? listed
              .filter((one) => one.probability >= WORTH_A_THREAD)
              .map((one) => causeKey(one.cause))
          : [alone],
      ),
    [listed, alone],
  )

  return { listed, chosen, rows, likely, marked, alone, threaded }
}
