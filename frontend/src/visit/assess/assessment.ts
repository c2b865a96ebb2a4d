import type { Decision, AssessedValve } from '@/api/client'

export const DECISION_WORDS: Record<Decision, string> = {
  leave: 'leave',
  set: 'adjust',
  'look-again': 'recheck',
}

/** Why a decision is advised. */
export const BECAUSE_WORDS: Record<AssessedValve['because'], string> = {
  'in-spec': 'in spec',
  'out-of-spec': 'out of spec',
  contradiction: 'contradictory answers',
  swings: 'changes from one turn of the crank to the next',
  shift: 'common offset of this visit',
  open: 'inconclusive',
  'not-read': 'not measured',
  position: 'crank perhaps one turn off',
}
