import type { CrankPlan, Phase, Visit } from '@/api/client'

/** In which order the valves are come to: station by station where there is a plan, else as the engine has them. */

export function measuringOrder(visit: Visit, plan: CrankPlan | undefined): string[] {
  const all = visit.valves.map((valve) => valve.valve)
  const planned = plan?.stations.flatMap((station) => station.valves) ?? []
  // A manual's own table may leave valves out; they come last, and are not lost.
  return [...planned, ...all.filter((valve) => !planned.includes(valve))]
}

/** The next valve that is not settled in this phase, round to the start; with all settled just the next. */
export function nextValve(order: string[], visit: Visit, phase: Phase, from: string): string {
  const start = order.indexOf(from)
  const rest = [...order.slice(start + 1), ...order.slice(0, start)]
  const unsettled = rest.find((id) => {
    const verdict = visit.valves.find((valve) => valve.valve === id)?.[phase].estimate?.verdict
    return verdict === undefined || verdict === 'open'
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
