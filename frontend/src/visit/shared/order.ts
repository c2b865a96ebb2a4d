import type { CrankPlan, Phase, Valve, Visit } from '@/api/client'

/** In which order the valves are come to: station by station where there is a plan, else as the engine has them. */

export function measuringOrder(
  visit: Visit,
  plan: CrankPlan | undefined,
  valves: Valve[] = [],
): string[] {
  const all = visit.valves.map((valve) => valve.valve)
  const planned = plan?.stations.flatMap((station) => station.valves) ?? []
  // A manual's own table may leave valves out; they come last, and are not lost.
  return together([...planned, ...all.filter((valve) => !planned.includes(valve))], valves)
}

/** Valves that share a rocker one after the other: with the rocker held they are read together. */
function together(order: string[], valves: Valve[]): string[] {
  const sharers = new Map(valves.map((valve) => [valve.id, valve.shares_rocker_with ?? []]))
  return [...new Set(order.flatMap((id) => [id, ...(sharers.get(id) ?? [])]))].filter((id) =>
    order.includes(id),
  )
}

/** Whether there is nothing more to do at a valve in a phase: it is known, passed over, or given up. */
export function isDone(visit: Visit, phase: Phase, id: string): boolean {
  const measured = visit.valves.find((valve) => valve.valve === id)?.[phase]
  if (measured?.skipped) return true
  if (!measured?.estimate || measured.estimate.contradiction) return false
  return measured.advice ? measured.advice.end !== null : measured.estimate.verdict !== 'open'
}

/** The valves that come into question in a phase: as left only those that were adjusted. */
export function valvesOf(order: string[], visit: Visit, phase: Phase): string[] {
  return phase === 'found' ? order : order.filter((id) => visit.adjusted.includes(id))
}

/** The next valve with something left to do in this phase, round to the start; null where there is none. */
export function nextValve(
  order: string[],
  visit: Visit,
  phase: Phase,
  from: string,
): string | null {
  const start = order.indexOf(from)
  const rest = [...order.slice(start + 1), ...order.slice(0, start)]
  return valvesOf(rest, visit, phase).find((id) => !isDone(visit, phase, id)) ?? null
}

/** The first valve that has not been read as found, else the first of all. */
export function firstUnread(order: string[], visit: Visit): string | undefined {
  const unread = order.find(
    (id) => visit.valves.find((valve) => valve.valve === id)?.found.tries.length === 0,
  )
  return unread ?? order[0]
}
