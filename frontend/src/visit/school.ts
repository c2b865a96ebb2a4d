import { useCallback, useState } from 'react'

export const SCHOOLS = [
  { id: 'two-turn', label: 'fewest positions', help: 'all valves that are shut at each position' },
  {
    id: 'each-cylinder',
    label: 'one cylinder at a time',
    help: 'each at its own top, in firing order',
  },
  {
    id: 'lobe-away',
    label: 'each lobe pointing away',
    help: 'valve by valve, where its cam is furthest off',
  },
] as const

export type School = (typeof SCHOOLS)[number]['id']

const KEY = 'pronostico.crank-school'

/** How this technician goes about turning the crank: a habit, so the browser remembers it. */
export function useSchool(): [School, (school: School) => void] {
  const [school, keep] = useState<School>(
    () => SCHOOLS.find(({ id }) => id === localStorage.getItem(KEY))?.id ?? 'two-turn',
  )
  const setSchool = useCallback((next: School) => {
    localStorage.setItem(KEY, next)
    keep(next)
  }, [])
  return [school, setSchool]
}
