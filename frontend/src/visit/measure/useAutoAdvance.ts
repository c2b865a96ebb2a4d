import { useEffect, useRef, useState } from 'react'

const KEY = 'pronostico.goes-on-by-itself'
/** Long enough to read one word; whoever does something within it stays with the valve. */
const AFTER_MS = 700

/**
 * Whether the page goes on to the next valve by itself once an answer has settled one: a habit, so the
 * browser remembers it. `settledHere` is of the place available, and only once something was answered at it.
 */
export function useAutoAdvance(settledHere: boolean, goOn: () => void) {
  const [on, keep] = useState(() => localStorage.getItem(KEY) === 'yes')
  const latest = useRef(goOn)
  useEffect(() => {
    latest.current = goOn
  })
  const due = on && settledHere
  useEffect(() => {
    if (!due) return
    const timer = setTimeout(() => latest.current(), AFTER_MS)
    return () => clearTimeout(timer)
  }, [due])
  return {
    on,
    setOn(next: boolean) {
      localStorage.setItem(KEY, next ? 'yes' : 'no')
      keep(next)
    },
  }
}
