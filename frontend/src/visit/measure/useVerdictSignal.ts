import { useEffect } from 'react'
import { signal } from '@/hands/signals'

/**
 * Tones and vibration as soon as an answer given here decides a valve, or the server refuses one. Without a
 * spec nothing is decided; a valve that was decided before it was come to says nothing.
 */
export function useVerdictSignal({
  decidedHere,
  verdict,
  refused,
}: {
  decidedHere: boolean
  /** Undefined where there is no spec to be in. */
  verdict: 'tight' | 'in' | 'loose' | 'open' | undefined
  refused: boolean
}) {
  const told =
    !decidedHere || verdict === undefined || verdict === 'open'
      ? undefined
      : verdict === 'in'
        ? ('in-spec' as const)
        : ('out-of-spec' as const)
  useEffect(() => {
    if (told) signal(told)
  }, [told])
  useEffect(() => {
    if (refused) signal('not-understood')
  }, [refused])
}
