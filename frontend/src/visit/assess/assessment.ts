import type { Decision, JudgedValve } from '@/api/client'

export const DECISION_WORDS: Record<Decision, string> = {
  leave: 'leave',
  set: 'set',
  'look-again': 'look again',
}

/** Why a decision is advised. */
export const BECAUSE_WORDS: Record<JudgedValve['because'], string> = {
  'in-spec': 'it is in spec',
  'out-of-spec': 'it is out of spec',
  contradiction: 'its answers contradict each other',
  swings: 'it swings on turning',
  shift: 'the whole visit may be off',
  open: 'it is not settled',
  'not-read': 'it was not read',
  position: 'the crank may have stood one turn off',
}
