import { t } from '@lingui/core/macro'
import { useSyncExternalStore } from 'react'
import { newId, type Phase, type StoredTry, type Visit } from '@/api/client'
import { forget, keep, subscribe, waiting, type SentTry, type Waiting } from '@/api/outbox'
import { sendingTrouble, sendNow } from '@/shared/outboxSender'

export type Failure = {
  /** What the browser or the server said. */
  error: Error
  /** How many of each are kept here. */
  answers: number
  takingsBack: number
  /** The server answered and said no: sending the same again would change nothing. */
  refused: boolean
}

/** What waits of one visit that the server could not be told, or refused; null where all is on its way. */
export function failureOf(here: Waiting[]): Failure | null {
  const refused = here.filter((one) => one.refused)
  const trouble = sendingTrouble()
  const counted = refused.length > 0 ? refused : trouble ? here : []
  if (counted.length === 0) return null
  const message = refused[0]?.refused?.message
  const takenBack = new Set(counted.flatMap((one) => (one.kind === 'take-back' ? [one.id] : [])))
  return {
    error: message !== undefined ? new Error(message) : (trouble ?? new Error(t`not sent yet`)),
    refused: refused.length > 0,
    answers: counted.filter((one) => one.kind === 'answer' && !takenBack.has(one.answer.id)).length,
    takingsBack: counted.filter((one) => one.kind === 'take-back').length,
  }
}

/** The answers of a visit: what is stored, and what is kept here until it is. */
export function useMeasuring(engineId: string, visit: Visit) {
  const all = useSyncExternalStore(subscribe, waiting)
  const here = all.filter((one) => one.engineId === engineId && one.visitId === visit.id)
  const coming = here.flatMap((one) => (one.kind === 'answer' ? [one.answer] : []))
  const takenBack = new Set(here.flatMap((one) => (one.kind === 'take-back' ? [one.id] : [])))

  function stored(valve: string, phase: Phase, turn: number): StoredTry[] {
    const known = visit.valves.find((one) => one.valve === valve)?.[phase]
    return known?.crank_turn === turn ? known.tries : []
  }

  /** Everything answered at a valve since the crank was last turned: stored, then on its way. */
  function tries(valve: string, phase: Phase, turn: number): StoredTry[] {
    const known = stored(valve, phase, turn)
    const ids = new Set(known.map((one) => one.id))
    const more = coming.filter(
      (one) =>
        one.valve === valve &&
        one.phase === phase &&
        (one.crank_turn ?? 1) === turn &&
        !ids.has(one.id),
    )
    return [...known, ...more].filter((one) => !takenBack.has(one.id))
  }

  return {
    tries,
    failure: failureOf(here),
    sendAll: sendNow,
    takeBack(id: string) {
      // One that was refused never will arrive: it is gone with that.
      const refused = here.find(
        (one) => one.kind === 'answer' && one.answer.id === id && one.refused,
      )
      if (refused) forget([refused.key])
      else keep({ engineId, visitId: visit.id, kind: 'take-back', id })
    },
    /** Whether what the server knows of a valve is not yet what was answered at it. */
    waiting(valve: string, phase: Phase, turn: number): boolean {
      const known = stored(valve, phase, turn)
      const shown = tries(valve, phase, turn)
      return shown.length !== known.length || shown.some((one, at) => one.id !== known[at]?.id)
    },
    /** Whether nothing can be stored just now, so that nobody is advised what to try next. */
    isAway: sendingTrouble() !== null,
    /** Note an answer; it is sent by itself. */
    answer(given: Omit<SentTry, 'id'>) {
      keep({ engineId, visitId: visit.id, kind: 'answer', answer: { id: newId(), ...given } })
    },
    /** Give up what the server refused. */
    letGo() {
      forget(here.filter((one) => one.refused).map((one) => one.key))
    },
  }
}
