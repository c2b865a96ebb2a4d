import type { Timeline } from '@/api/client'

/** Which lanes are shown and in which order: pure, so that typing stays quick with a thousand of them. */

export const SHOWN = {
  all: 'all',
  due: 'due now',
  soon: 'due in 30 days',
  cases: 'with an open case',
  changed: 'changed at the last visit',
} as const
export type Shown = keyof typeof SHOWN

export const ORDERS = {
  look: 'next check first',
  name: 'name',
  worst: 'worst valve first',
  last: 'longest since a visit',
} as const
export type Order = keyof typeof ORDERS

const DAY_MS = 86_400_000

function daysUntil(isoDay: string, today: string): number {
  return (Date.parse(isoDay) - Date.parse(today)) / DAY_MS
}

/** Whether an engine wants a look now: its day has come, or a valve is out as it stands. */
export function isDue(lane: Timeline, today: string): boolean {
  if (lane.result?.next_look?.now) return true
  return lane.look_day !== null && daysUntil(lane.look_day, today) <= 0
}

function isShown(lane: Timeline, shown: Shown, today: string): boolean {
  switch (shown) {
    case 'all':
      return true
    case 'due':
      return isDue(lane, today)
    case 'soon':
      return isDue(lane, today) || (lane.look_day !== null && daysUntil(lane.look_day, today) <= 30)
    case 'cases':
      return lane.cases.length > 0
    case 'changed':
      return (lane.result?.changed.length ?? 0) > 0
  }
}

/** What a lane can be found by. */
export function wordsOf(lane: Timeline, labels: Map<string, string>): string {
  const complaints = lane.cases.flatMap((one) => one.complaints.map((id) => labels.get(id) ?? id))
  return [lane.name, lane.id, lane.fuel, lane.adjustment, lane.result?.worst?.valve, ...complaints]
    .join(' ')
    .toLowerCase()
}

function urgency(lane: Timeline, today: string): number {
  if (isDue(lane, today)) return -1e6 - (lane.result?.worst?.probability ?? 0)
  return lane.look_day === null ? 1e6 : daysUntil(lane.look_day, today)
}

function badness({ result }: Timeline): number {
  const { worst } = result ?? {}
  if (!worst) return 2
  return worst.leaning === 'in' ? worst.probability : -worst.probability
}

function lastDay(lane: Timeline): string {
  return lane.visits.at(-1)?.day ?? ''
}

export function lanesShown(
  lanes: Timeline[],
  {
    shown,
    order,
    typed,
    today,
    labels,
  }: { shown: Shown; order: Order; typed: string; today: string; labels: Map<string, string> },
): Timeline[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  const kept = lanes.filter((lane) => {
    if (!isShown(lane, shown, today)) return false
    const text = words.length > 0 ? wordsOf(lane, labels) : ''
    return words.every((word) => text.includes(word))
  })
  // The lanes come by name, and sorting keeps that order among equals.
  switch (order) {
    case 'name':
      return kept
    case 'look':
      return kept.sort((a, b) => urgency(a, today) - urgency(b, today))
    case 'worst':
      return kept.sort((a, b) => badness(a) - badness(b))
    case 'last':
      return kept.sort((a, b) => (lastDay(a) < lastDay(b) ? -1 : 1))
  }
}
