import type { SentTry } from './queries'

/**
 * Answers that are not stored yet, kept by the browser: a reload or a flat battery loses none of them. They
 * carry their identifiers, so that one which did arrive is not stored twice.
 */

function keyOf(engineId: string, visitId: string): string {
  return `pronostico.unsent.${JSON.stringify([engineId, visitId])}`
}

export function loadUnsent(engineId: string, visitId: string): SentTry[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(engineId, visitId)) ?? '[]')
    return Array.isArray(kept) ? (kept as SentTry[]) : []
  } catch {
    // What cannot be read cannot be sent; it must not keep the page from opening.
    return []
  }
}

export function keepUnsent(engineId: string, visitId: string, unsent: SentTry[]) {
  const key = keyOf(engineId, visitId)
  if (unsent.length === 0) localStorage.removeItem(key)
  else localStorage.setItem(key, JSON.stringify(unsent))
}
