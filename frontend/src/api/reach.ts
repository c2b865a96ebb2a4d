/** Whether the server answers, and else from when the pages are that are shown. */

export type Reach = { away: false } | { away: true; seenAt: Date | null }

/** Set by the service worker on an answer that it kept from an earlier time. */
export const SEEN_AT_HEADER = 'X-Seen-At'
export const SEEN_CACHE = 'seen'

/** Signed out: what this device saw is no longer its own to show. */
export async function forgetSeen(): Promise<void> {
  if ('caches' in globalThis) await caches.delete(SEEN_CACHE)
}

let reach: Reach = { away: false }
const listeners = new Set<() => void>()

function set(next: Reach) {
  const same =
    next.away === reach.away &&
    (!next.away || !reach.away || next.seenAt?.getTime() === reach.seenAt?.getTime())
  if (same) return
  reach = next
  for (const listener of listeners) listener()
}

export function currentReach(): Reach {
  return reach
}

export function subscribeToReach(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

export function noteAway() {
  set({ away: true, seenAt: reach.away ? reach.seenAt : null })
}

/** What an answer says: of the server itself, or kept from an earlier time. */
export function noteAnswer(response: Response) {
  const seen = response.headers.get(SEEN_AT_HEADER)
  if (seen === null) return set({ away: false })
  const at = new Date(seen)
  // The oldest of what is shown is what counts.
  const oldest = reach.away && reach.seenAt && reach.seenAt < at ? reach.seenAt : at
  set({ away: true, seenAt: oldest })
}
