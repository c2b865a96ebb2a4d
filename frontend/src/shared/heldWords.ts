import type { Holds, RemovalKind } from '@/api/client'

const WORDS: [keyof Holds, string, string][] = [
  ['visits', 'visit', 'visits'],
  ['readings', 'reading', 'readings'],
  ['answers', 'feeler answer', 'feeler answers'],
  ['adjustments', 'adjustment', 'adjustments'],
  ['cases', 'case', 'cases'],
  ['notes', 'note', 'notes'],
  ['photographs', 'photo', 'photos'],
]

/** What hangs on something, in words; of a visit or a case without itself. */
export function heldWords(holds: Holds, kind: RemovalKind): string {
  const parts = WORDS.filter(([what]) => what !== `${kind}s` && holds[what] > 0).map(
    ([what, one, many]) => `${holds[what]} ${holds[what] === 1 ? one : many}`,
  )
  const last = parts.pop()
  if (last === undefined) return ''
  return parts.length === 0 ? last : `${parts.join(', ')} and ${last}`
}
