import type { Visit } from '@/api/client'

export type School = Visit['school']

/** The ways to go about turning the crank. */
export const SCHOOLS: { id: School; label: string; help: string }[] = [
  {
    id: 'two-turn',
    label: 'two-position method',
    help: 'fewest positions: all valves closed at each one',
  },
  {
    id: 'each-cylinder',
    label: 'cylinder by cylinder',
    help: 'each at its own TDC on compression, in firing order if known',
  },
  {
    id: 'lobe-away',
    label: 'lobe opposite the follower',
    help: 'valve by valve, where its lobe is furthest from the follower',
  },
]
