import { useEffect, useRef, useState } from 'react'
import { newId, ProblemError, type Phase, type StoredTry, type Visit } from '@/api/client'
import type { Felt } from './bladeChoice'
import { useSendTry, useTakeBack, type SentTry } from './queries'
import { keepUnsent, loadUnsent } from './unsent'

const TRY_AGAIN_AFTER_MS = 3000

export type Failure = {
  error: Error
  /** How many answers are kept here; none where it was a taking back that failed. */
  count: number
  /** The server answered and said no: sending the same again would change nothing. */
  refused: boolean
}

/** Sending answers, and holding those that are not stored yet until they are. */
export function useMeasuring(engineId: string, visit: Visit) {
  const [unsent, setUnsent] = useState(() => loadUnsent(engineId, visit.id))
  const [error, setError] = useState<Error | null>(null)
  const send = useSendTry(engineId, visit.id)
  const back = useTakeBack(engineId, visit.id)
  const refused = error instanceof ProblemError

  useEffect(() => keepUnsent(engineId, visit.id, unsent), [engineId, visit.id, unsent])

  // Each answer has a promise of its own: callbacks of a mutation are called for its latest use alone.
  async function sendOne(one: SentTry, onKept?: () => void) {
    try {
      await send.mutateAsync(one)
      setError(null)
      setUnsent((waiting) => waiting.filter((other) => other.id !== one.id))
    } catch (reason) {
      setError(reason as Error)
      onKept?.()
    }
  }

  function sendAll() {
    for (const one of unsent) void sendOne(one)
  }

  const latestSendAll = useRef(sendAll)
  useEffect(() => {
    latestSendAll.current = sendAll
  })
  // What an earlier page could not send is sent on arrival, and again and again while the server is away.
  useEffect(() => latestSendAll.current(), [])
  const away = error !== null && !refused && unsent.length > 0
  useEffect(() => {
    if (!away) return
    const timer = setInterval(() => latestSendAll.current(), TRY_AGAIN_AFTER_MS)
    return () => clearInterval(timer)
  }, [away])

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

  async function takeBack(valve: string, phase: Phase) {
    const last = tries(valve, phase).at(-1)
    if (!last) return
    const onlyHere = error !== null && unsent.some((one) => one.id === last.id)
    setUnsent((waiting) => waiting.filter((one) => one.id !== last.id))
    if (onlyHere) {
      if (unsent.length === 1) setError(null)
      return
    }
    try {
      // One that is still on its way is taken back after it has arrived: both wait in the same line.
      await back.mutateAsync(last.id)
      setError(null)
    } catch (reason) {
      setError(reason as Error)
    }
  }

  const failure: Failure | null = error && { error, count: unsent.length, refused }
  return {
    tries,
    takeBack,
    sendAll,
    failure,
    /** Whether something answered at a valve is still on its way. */
    waiting(valve: string, phase: Phase): boolean {
      return tries(valve, phase).length > stored(valve, phase).length
    },
    /** Note an answer and send it; `onKept` is called where it could not be stored and is kept here. */
    answer(valve: string, phase: Phase, bladesMm: number[], felt: Felt, onKept: () => void) {
      const one: SentTry = { id: newId(), valve, phase, blades_mm: bladesMm, felt }
      setUnsent((waiting) => [...waiting, one])
      void sendOne(one, onKept)
    },
    /** Give up what the server refused. */
    letGo() {
      setUnsent([])
      setError(null)
    },
  }
}
