import { useReducer, useState } from 'react'
import type { Advice, StoredTry } from '@/api/client'
import { bladeChoice, type BladeAction } from '@/blades/bladeChoice'

/** The blade in the hand at a valve: advised when advice comes, the technician's own once another is taken. */
export function useBladeInHand({
  place,
  bladesMm,
  startMm,
  tries,
  advice,
  away,
}: {
  /** The valve, the phase and the turn of the crank: with another, another blade comes to hand. */
  place: string
  bladesMm: number[]
  /** Where to begin without advice, mm. */
  startMm: number
  tries: StoredTry[]
  /** Advice for these very tries; null while one is on its way. */
  advice: Advice | null
  /** No advice can come: the server is not reached. */
  away: boolean
}) {
  const atPlace = { type: 'valve', bladesMm, startMm, tried: tries } as const
  const [choice, dispatch] = useReducer(bladeChoice, undefined, () =>
    bladeChoice({ bladesMm, at: 0, stacked: [], typed: null }, atPlace),
  )
  // Done while drawing, so that no stale leaf shows.
  const state = `${place} ${bladesMm.join()}`
  const [shown, setShown] = useState(state)
  if (shown !== state) {
    setShown(state)
    dispatch(atPlace)
  }
  // Each advice is followed once, when it comes; after that the hand is the technician's own.
  const adviceKey = `${state} ${tries.map((one) => one.id).join()}`
  const [followed, setFollowed] = useState('')
  if (advice?.blades_mm && followed !== adviceKey) {
    setFollowed(adviceKey)
    dispatch({ type: 'advised', bladesMm: advice.blades_mm })
  }
  // Where none can come, the next leaf does, as in walking a set.
  const last = tries.at(-1)
  if (away && last && followed !== adviceKey) {
    setFollowed(adviceKey)
    dispatch({ type: 'unadvised', felt: last.felt, tried: tries })
  }
  return {
    choice,
    /** What the technician takes in the hand stays there, even if advice comes a moment later. */
    take(action: BladeAction) {
      setFollowed(adviceKey)
      dispatch(action)
    },
  }
}
