import { useEffect, useLayoutEffect, useRef } from 'react'

/** Keys anywhere on the page; each is handled by what the page knows after the one before it. */
export function useKeys(onKey: (event: KeyboardEvent) => void) {
  const latest = useRef(onKey)
  // Before the next key can come, not after the next paint: fast fingers would else act on an old page.
  useLayoutEffect(() => {
    latest.current = onKey
  })
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      // What lies over the page has the keys to itself.
      const over = event.target instanceof Element && event.target.closest('[role="dialog"]')
      if (!over) latest.current(event)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])
}
