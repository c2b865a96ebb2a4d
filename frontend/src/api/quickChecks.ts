type Checks = Record<string, { seen: string }>

/** Quick checks of a visit with one noted otherwise. */
export function withQuickCheck(checks: Checks, id: string, done: boolean, seen: string): Checks {
  const others = Object.fromEntries(Object.entries(checks).filter(([name]) => name !== id))
  return done ? { ...others, [id]: { seen } } : others
}
