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

/** The next valve that is not settled in this phase, round to the start; with all settled just the next. */
export function nextValve(order: string[], visit: Visit, phase: Phase, from: string): string {
  const start = order.indexOf(from)
  const rest = [...order.slice(start + 1), ...order.slice(0, start)]
  const unsettled = rest.find((id) => {
    const measured = visit.valves.find((valve) => valve.valve === id)?.[phase]
    const verdict = measured?.estimate?.verdict
    return !measured?.skipped && (verdict === undefined || verdict === 'open')
  })
  return unsettled ?? rest[0] ?? from
}

/** The first valve that has not been read as found, else the first of all. */
export function firstUnread(order: string[], visit: Visit): string | undefined {
  const unread = order.find(
    (id) => visit.valves.find((valve) => valve.valve === id)?.found.tries.length === 0,
  )
  return unread ?? order[0]
}
