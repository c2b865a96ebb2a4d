import type { Visit } from '@/api/client'

export type School = Visit['school']

/** The ways to go about turning the crank. */
export const SCHOOLS: { id: School; label: string; help: string }[] = [
  { id: 'two-turn', label: 'fewest positions', help: 'all valves that are shut at each position' },
  {
    id: 'each-cylinder',
    label: 'cylinder by cylinder',
    help: 'each at its own top, in firing order where it is known',
  },
  {
    id: 'lobe-away',
    label: 'lobe opposite the follower',
    help: 'valve by valve, where its cam is furthest off',
  },
]
