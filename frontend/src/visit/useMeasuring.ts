import { useState } from 'react'
import { newId, type Phase, type StoredTry, type Visit } from '@/api/client'
import type { Felt } from './bladeChoice'
import { useSendTry, useTakeBack, type SentTry } from './queries'

/** Sending answers, and holding those that are not stored yet. */
export function useMeasuring(engineId: string, visit: Visit) {
  const [unsent, setUnsent] = useState<SentTry[]>([])
  const [failure, setFailure] = useState<Error | null>(null)
  const send = useSendTry(engineId, visit.id)
  const back = useTakeBack(engineId, visit.id)

  function sendOne(one: SentTry, onKept?: () => void) {
    send.mutate(one, {
      onSuccess: () => {
        setFailure(null)
        setUnsent((waiting) => waiting.filter((other) => other.id !== one.id))
      },
      onError: (error) => {
        setFailure(error)
        onKept?.()
      },
    })
  }

  function stored(valve: string, phase: Phase): StoredTry[] {
    return visit.valves.find((one) => one.valve === valve)?.[phase].tries ?? []
  }

  /** Everything answered at a valve: stored, then on its way. */
  function tries(valve: string, phase: Phase): StoredTry[] {
    const here = stored(valve, phase)
    const known = new Set(here.map((one) => one.id))
    return [
      ...here,
      ...unsent.filter((one) => one.valve === valve && one.phase === phase && !known.has(one.id)),
    ]
  }

  return {
    tries,
    /** Answers that could not be stored; they stay here until they are. */
    failure: failure && unsent.length > 0 ? { error: failure, count: unsent.length } : null,
    /** Whether something answered at a valve is still on its way. */
    waiting(valve: string, phase: Phase): boolean {
      return tries(valve, phase).length > stored(valve, phase).length
    },
    /** Note an answer and send it; `onKept` is called where it could not be stored and is kept here. */
    answer(valve: string, phase: Phase, bladesMm: number[], felt: Felt, onKept: () => void) {
      const one: SentTry = { id: newId(), valve, phase, blades_mm: bladesMm, felt }
      setUnsent((waiting) => [...waiting, one])
      sendOne(one, onKept)
    },
    sendAgain() {
      unsent.forEach((one) => sendOne(one))
    },
    takeBack(valve: string, phase: Phase) {
      const last = tries(valve, phase).at(-1)
      if (!last) return
      setUnsent((waiting) => waiting.filter((one) => one.id !== last.id))
      // One that could not be sent is only here; one on its way is taken back after it has arrived.
      const onlyHere = failure !== null && unsent.some((one) => one.id === last.id)
      if (!onlyHere) back.mutate(last.id, { onError: setFailure })
    },
  }
}
