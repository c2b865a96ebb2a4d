import { useEffect } from 'react'
import { language } from '@/design/language'

/** After what is shown has been fetched. */
const AFTER_MS = 4_000

/** Everything that the steps of a visit ask the server for. */
function addressesOf(engineId: string, visitId: string, school: string, cases: string[]): string[] {
  const engine = `/api/engines/${encodeURIComponent(engineId)}`
  const visit = `${engine}/visits/${encodeURIComponent(visitId)}`
  return [
    '/api/session',
    '/api/engines',
    '/api/workshop',
    '/api/findings',
    '/api/blade-sets',
    `/api/blade-sets?engine=${encodeURIComponent(engineId)}`,
    '/api/shim-box',
    '/api/workshop-settings',
    engine,
    ...['analysis', 'drift', 'price', `crank?school=${school}`].map((part) => `${engine}/${part}`),
    visit,
    ...['assessment', 'setting', 'verification', 'tests', 'photographs', 'card'].map(
      (part) => `${visit}/${part}`,
    ),
    ...cases.flatMap((id) =>
      ['', '/diagnosis', '/notebook'].map(
        (part) => `${engine}/cases/${encodeURIComponent(id)}${part}`,
      ),
    ),
  ]
}

/** What has been fetched since the page was opened. */
const ready = new Set<string>()

/**
 * Have the service worker see all steps of a visit, so that the work can go on where the server cannot be
 * reached. One after the other: it must not get into the way of what is shown.
 */
export function useReadyForAway(
  engineId: string,
  visitId: string,
  school: string,
  cases: string[],
) {
  const openCases = cases.join(' ')
  useEffect(() => {
    const key = `${engineId} ${visitId} ${openCases}`
    if (!('serviceWorker' in navigator) || ready.has(key)) return
    let left = false
    const timer = setTimeout(async () => {
      await navigator.serviceWorker.ready
      for (const address of addressesOf(
        engineId,
        visitId,
        school,
        openCases.split(' ').filter(Boolean),
      )) {
        if (left || !navigator.serviceWorker.controller) return
        const headers = { 'Accept-Language': language() }
        await fetch(address, { headers }).catch(() => undefined)
      }
      ready.add(key)
    }, AFTER_MS)
    return () => {
      left = true
      clearTimeout(timer)
    }
  }, [engineId, visitId, school, openCases])
}
