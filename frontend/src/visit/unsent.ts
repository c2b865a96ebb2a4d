import type { SentTry } from './queries'

/**
 * What is not stored yet, kept by the browser: a reload or a flat battery loses none of it. Answers carry
 * their identifiers, so that one which did arrive is not stored twice, nor taken back twice.
 */
export type Unsent = { tries: SentTry[]; takenBack: string[] }

function keyOf(engineId: string, visitId: string): string {
  return `pronostico.unsent.${JSON.stringify([engineId, visitId])}`
}

export function loadUnsent(engineId: string, visitId: string): Unsent {
  try {
    const kept = JSON.parse(
      localStorage.getItem(keyOf(engineId, visitId)) ?? '{}',
    ) as Partial<Unsent>
    return { tries: kept.tries ?? [], takenBack: kept.takenBack ?? [] }
  } catch {
    // What cannot be read cannot be sent; it must not keep the page from opening.
    return { tries: [], takenBack: [] }
  }
}

export function keepUnsent(engineId: string, visitId: string, unsent: Unsent) {
  const key = keyOf(engineId, visitId)
  if (unsent.tries.length + unsent.takenBack.length === 0) localStorage.removeItem(key)
  else localStorage.setItem(key, JSON.stringify(unsent))
}
