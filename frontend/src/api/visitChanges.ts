import type { ValvePart } from './client'

type Checks = Record<string, { seen: string }>

/** Quick checks of a visit with one noted otherwise. */
export function withQuickCheck(checks: Checks, id: string, done: boolean, seen: string): Checks {
  const others = Object.fromEntries(Object.entries(checks).filter(([name]) => name !== id))
  return done ? { ...others, [id]: { seen } } : others
}

type ChangedPart = { valve: string; part: ValvePart }

/** Parts changed in a visit, with those of one valve noted otherwise. */
export function withPartsOf(
  noted: ChangedPart[],
  valve: string,
  parts: ValvePart[],
): ChangedPart[] {
  const others = noted.filter((one) => one.valve !== valve)
  return [...others, ...parts.map((part) => ({ valve, part }))]
}
