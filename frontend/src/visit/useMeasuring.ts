import { useEffect, useRef, useState } from 'react'
import { newId, ProblemError, type Phase, type StoredTry, type Visit } from '@/api/client'
import { useSendTry, useTakeBack, type SentTry } from './queries'
import { keepUnsent, loadUnsent } from './unsent'

const TRY_AGAIN_AFTER_MS = 3000

export type Failure = {
  error: Error
  /** How many of each are kept here. */
  answers: number
  takingsBack: number
  /** The server answered and said no: sending the same again would change nothing. */
  refused: boolean
}

/** Sending answers, and holding what is not stored yet until it is. */
export function useMeasuring(engineId: string, visit: Visit) {
  const [unsent, setUnsent] = useState(() => loadUnsent(engineId, visit.id))
  const [error, setError] = useState<Error | null>(null)
  const send = useSendTry(engineId, visit.id)
  const back = useTakeBack(engineId, visit.id)
  const refused = error instanceof ProblemError
  const count = unsent.tries.length + unsent.takenBack.length

  useEffect(() => keepUnsent(engineId, visit.id, unsent), [engineId, visit.id, unsent])

  // Each answer has a promise of its own: callbacks of a mutation are called for its latest use alone.
  async function sendOne(one: SentTry, onKept?: () => void) {
    try {
      await send.mutateAsync(one)
      setError(null)
      setUnsent(({ tries, takenBack }) => ({
        tries: tries.filter((other) => other.id !== one.id),
        takenBack,
      }))
    } catch (reason) {
      setError(reason as Error)
      onKept?.()
    }
  }

  // One that is still on its way is taken back after it has arrived: both wait in the same line, and it is
  // kept until then, so that a page reloaded meanwhile sends the two in the same order.
  async function sendBack(id: string) {
    try {
      await back.mutateAsync(id)
      setError(null)
    } catch (reason) {
      // One that never arrived is as good as taken back.
      if (!(reason instanceof ProblemError && reason.status === 404)) {
        setError(reason as Error)
        return
      }
      setError(null)
    }
    setUnsent(({ tries, takenBack }) => ({
      tries: tries.filter((one) => one.id !== id),
      takenBack: takenBack.filter((other) => other !== id),
    }))
  }

  function sendAll() {
    for (const one of unsent.tries) void sendOne(one)
    for (const id of unsent.takenBack) void sendBack(id)
  }

  const latestSendAll = useRef(sendAll)
  useEffect(() => {
    latestSendAll.current = sendAll
  })
  // What an earlier page could not send is sent on arrival, and again and again while the server is away.
  useEffect(() => latestSendAll.current(), [])
  const away = error !== null && !refused && count > 0
  useEffect(() => {
    if (!away) return
    const timer = setInterval(() => latestSendAll.current(), TRY_AGAIN_AFTER_MS)
    return () => clearInterval(timer)
  }, [away])

  function stored(valve: string, phase: Phase, turn: number): StoredTry[] {
    const here = visit.valves.find((one) => one.valve === valve)?.[phase]
    return here?.crank_turn === turn ? here.tries : []
  }

  /** Everything answered at a valve since the crank was last turned: stored, then on its way. */
  function tries(valve: string, phase: Phase, turn: number): StoredTry[] {
    const here = stored(valve, phase, turn)
    const known = new Set(here.map((one) => one.id))
    const coming = unsent.tries.filter(
      (one) =>
        one.valve === valve &&
        one.phase === phase &&
        (one.crank_turn ?? 1) === turn &&
        !known.has(one.id),
    )
    return [...here, ...coming].filter((one) => !unsent.takenBack.includes(one.id))
  }

  function takeBack(id: string) {
    setUnsent(({ tries, takenBack }) => ({ tries, takenBack: [...takenBack, id] }))
    void sendBack(id)
  }

  const failure: Failure | null = error && {
    error,
    refused,
    answers: unsent.tries.filter((one) => !unsent.takenBack.includes(one.id)).length,
    takingsBack: unsent.takenBack.length,
  }
  return {
    tries,
    takeBack,
    sendAll,
    failure,
    /** Whether what the server knows of a valve is not yet what was answered at it. */
    waiting(valve: string, phase: Phase, turn: number): boolean {
      const known = stored(valve, phase, turn)
      const shown = tries(valve, phase, turn)
      return shown.length !== known.length || shown.some((one, at) => one.id !== known[at]?.id)
    },
    /** Note an answer and send it; `onKept` is called where it could not be stored and is kept here. */
    answer(given: Omit<SentTry, 'id'>, onKept: () => void) {
      const one: SentTry = { id: newId(), ...given }
      setUnsent(({ tries, takenBack }) => ({ tries: [...tries, one], takenBack }))
      void sendOne(one, onKept)
    },
    /** Give up what the server refused. */
    letGo() {
      setUnsent({ tries: [], takenBack: [] })
      setError(null)
    },
  }
}
