import { t } from '@lingui/core/macro'
import type { Felt } from './bladeChoice'

export const ANSWER_WORDS: Record<Felt, string> = {
  'no-go': t`won't go`,
  drag: t`drags`,
  free: t`slides freely`,
  go: t`went in`,
}

/** The three answers in the order of the keys, with the keys that give them. */
export const ANSWERS: { felt: Felt; keys: [string, string] }[] = [
  { felt: 'no-go', keys: ['J', '1'] },
  { felt: 'drag', keys: ['K', '2'] },
  { felt: 'free', keys: ['L', '3'] },
]

export function answerOfKey(key: string): Felt | undefined {
  return ANSWERS.find(({ keys }) => keys.includes(key.toUpperCase()))?.felt
}
