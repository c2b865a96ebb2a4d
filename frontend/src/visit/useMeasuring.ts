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

  function sendOne(one: SentTry) {
    send.mutate(one, {
      onSuccess: () => {
        setFailure(null)
        setUnsent((waiting) => waiting.filter((other) => other.id !== one.id))
      },
      onError: setFailure,
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
    answer(valve: string, phase: Phase, bladesMm: number[], felt: Felt) {
      const one: SentTry = { id: newId(), valve, phase, blades_mm: bladesMm, felt }
      setUnsent((waiting) => [...waiting, one])
      sendOne(one)
    },
    sendAgain() {
      unsent.forEach(sendOne)
    },
    /** Take the last answer back; returns it. */
    takeBack(valve: string, phase: Phase): StoredTry | undefined {
      const last = tries(valve, phase).at(-1)
      if (!last) return undefined
      setUnsent((waiting) => waiting.filter((one) => one.id !== last.id))
      // One that could not be sent is only here; one on its way is taken back after it has arrived.
      const onlyHere = failure !== null && unsent.some((one) => one.id === last.id)
      if (!onlyHere) back.mutate(last.id, { onError: setFailure })
      return last
    },
  }
}
