import { useEffect, useState } from 'react'

const DEGREES_PER_MS = 0.35

/** The crank angle on its way to where it was turned, at a hand's speed; at once where motion is unwelcome. */
export function useTurning(target: number): number {
  const [shown, setShown] = useState(target)
  useEffect(() => {
    const still = window.matchMedia('(prefers-reduced-motion: reduce)').matches
    let frame = 0
    let before = performance.now()
    const step = (now: number) => {
      const by = still ? Infinity : (now - before) * DEGREES_PER_MS
      before = now
      setShown((at) => {
        const next = Math.min(target, at + by)
        if (next < target) frame = requestAnimationFrame(step)
        return next
      })
    }
    frame = requestAnimationFrame(step)
    return () => cancelAnimationFrame(frame)
  }, [target])
  return shown
}
