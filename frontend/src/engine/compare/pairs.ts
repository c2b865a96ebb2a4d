import { t } from '@lingui/core/macro'
import type { ComparedState } from '@/api/addresses'
import type { Analysis } from '@/api/client'

type Pair = [ComparedState, ComparedState]
export type SuggestedPair = { label: string; pair: Pair }

type Known = Pick<Analysis, 'engine' | 'valves'>

/** Comparisons that an engine's visits suggest: the last two, before and after each work on the head. */
export function suggestedPairs({ engine, valves }: Known): SuggestedPair[] {
  const states = valves[0]?.history ?? []
  const at = (visit: string, when: ComparedState['when']) => ({ engine, visit, when })
  const suggested: SuggestedPair[] = []
  const [before, last] = [states.at(-2), states.at(-1)]
  if (before && last) {
    suggested.push({
      label: t`Since the visit before`,
      pair: [at(before.visit, 'after'), at(last.visit, 'found')],
    })
  }
  const first = states[0]
  if (first && last && states.length > 2) {
    suggested.push({
      label: t`Since the first visit`,
      pair: [at(first.visit, 'found'), at(last.visit, 'found')],
    })
  }
  if (last) {
    suggested.push({
      label: t`Before and after the work of ${last.visit}`,
      pair: [at(last.visit, 'found'), at(last.visit, 'after')],
    })
  }
  for (const state of states) {
    if (state.head_work && state !== last) {
      suggested.push({
        label: t`Before and after the head work of ${state.visit}`,
        pair: [at(state.visit, 'found'), at(state.visit, 'after')],
      })
    }
  }
  return suggested
}

/** What is compared where nothing was chosen; null without a visit. */
export function startingPair(known: Known): Pair | null {
  return suggestedPairs(known)[0]?.pair ?? null
}
