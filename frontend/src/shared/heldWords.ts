import { plural, t } from '@lingui/core/macro'
import type { Holds, RemovalKind } from '@/api/client'

const WORDS: [keyof Holds, (count: number) => string][] = [
  ['visits', (count) => plural(count, { one: '# visit', other: '# visits' })],
  ['readings', (count) => plural(count, { one: '# reading', other: '# readings' })],
  ['answers', (count) => plural(count, { one: '# feeler answer', other: '# feeler answers' })],
  ['adjustments', (count) => plural(count, { one: '# adjustment', other: '# adjustments' })],
  ['cases', (count) => plural(count, { one: '# case', other: '# cases' })],
  ['notes', (count) => plural(count, { one: '# note', other: '# notes' })],
  ['photographs', (count) => plural(count, { one: '# photo', other: '# photos' })],
]

/** What hangs on something, in words; of a visit or a case without itself. */
export function heldWords(holds: Holds, kind: RemovalKind): string {
  const parts = WORDS.filter(([what]) => what !== `${kind}s` && holds[what] > 0).map(
    ([what, words]) => words(holds[what]),
  )
  const last = parts.pop()
  if (last === undefined) return ''
  return parts.length === 0 ? last : t`${parts.join(', ')} and ${last}`
}
