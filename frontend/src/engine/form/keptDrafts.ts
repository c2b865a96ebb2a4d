import type { EngineDraft } from './draft'

/** Half-described engines, kept by this browser until they are saved or discarded. */

declare const VERSION: string

const KEY = 'new-engine-drafts'
/** So many are kept; the oldest goes. */
const MOST = 5

export type KeptDraft = { id: string; at: string; draft: EngineDraft }

/** The drafts, the newest first; those of another version of the form mean nothing to this one. */
export function keptDrafts(): KeptDraft[] {
  try {
    const { version, drafts } = JSON.parse(localStorage.getItem(KEY) ?? '{}') as {
      version?: string
      drafts?: KeptDraft[]
    }
    return version === VERSION && Array.isArray(drafts) ? drafts : []
  } catch {
    return []
  }
}

function store(drafts: KeptDraft[]) {
  try {
    localStorage.setItem(KEY, JSON.stringify({ version: VERSION, drafts: drafts.slice(0, MOST) }))
  } catch {
    // The browser has no room left or keeps nothing: the page itself still has what was typed.
  }
}

export function keepDraft(id: string, draft: EngineDraft) {
  const others = keptDrafts().filter((one) => one.id !== id)
  store([{ id, at: new Date().toISOString(), draft }, ...others])
}

export function forgetDraft(id: string) {
  store(keptDrafts().filter((one) => one.id !== id))
}
