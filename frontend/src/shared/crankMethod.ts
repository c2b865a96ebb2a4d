import { t } from '@lingui/core/macro'
import type { Visit } from '@/api/client'

export type School = Visit['school']

/** The ways to go about turning the crank. */
export const SCHOOLS: { id: School; label: string; help: string }[] = [
  {
    id: 'two-turn',
    label: t`two-position method`,
    help: t`fewest positions: all valves closed at each one`,
  },
  {
    id: 'each-cylinder',
    label: t`cylinder by cylinder`,
    help: t`each at its own TDC on compression, in firing order if known`,
  },
  {
    id: 'lobe-away',
    label: t`lobe opposite the follower`,
    help: t`valve by valve, where its lobe is furthest from the follower`,
  },
]
