import { t } from '@lingui/core/macro'
import type { Decision, AssessedValve } from '@/api/client'

export const DECISION_WORDS: Record<Decision, string> = {
  leave: t`leave`,
  set: t`adjust`,
  'look-again': t`recheck`,
}

/** Why a decision is advised. */
export const BECAUSE_WORDS: Record<AssessedValve['because'], string> = {
  'in-spec': t`in spec`,
  'out-of-spec': t`out of spec`,
  contradiction: t`contradictory answers`,
  swings: t`changes from one turn of the crank to the next`,
  shift: t`common offset of this visit`,
  open: t`inconclusive`,
  'not-read': t`not measured`,
  position: t`crank perhaps one turn off`,
}
