import { useEffect } from 'react'

/** Name the page for tabs, history and screen readers. */
export function useTitle(title: string) {
  useEffect(() => {
    document.title = `${title} – Pronostico`
  }, [title])
}
