import { t } from '@lingui/core/macro'
import type { Timeline } from '@/api/client'

/** Which timelines are shown and in which order: pure, so that typing stays quick with a thousand of them. */

export const SHOWN = {
  all: t`all`,
  due: t`due now`,
  soon: t`due in 30 days`,
  cases: t`with an open case`,
  changed: t`changed at the last visit`,
  archived: t`archived`,
} as const
export type Shown = keyof typeof SHOWN

export const ORDERS = {
  look: t`next check first`,
  name: t`name`,
  worst: t`worst valve first`,
  last: t`longest since a visit`,
} as const
export type Order = keyof typeof ORDERS

const DAY_MS = 86_400_000

function daysUntil(isoDay: string, today: string): number {
  return (Date.parse(isoDay) - Date.parse(today)) / DAY_MS
}

/** Whether an engine wants a check now: its day has come, or a valve is out currently. */
export function isDue(timeline: Timeline, today: string): boolean {
  if (timeline.result?.check_due?.now) return true
  return timeline.look_day !== null && daysUntil(timeline.look_day, today) <= 0
}

function isShown(timeline: Timeline, shown: Shown, today: string): boolean {
  if ((timeline.archived !== null) !== (shown === 'archived')) return false
  switch (shown) {
    case 'all':
    case 'archived':
      return true
    case 'due':
      return isDue(timeline, today)
    case 'soon':
      return (
        isDue(timeline, today) ||
        (timeline.look_day !== null && daysUntil(timeline.look_day, today) <= 30)
      )
    case 'cases':
      return timeline.cases.length > 0
    case 'changed':
      return (timeline.result?.changed.length ?? 0) > 0
  }
}

/** What a timeline can be found by. */
export function wordsOf(timeline: Timeline, labels: Map<string, string>): string {
  const complaints = timeline.cases.flatMap((one) =>
    one.complaints.map((id) => labels.get(id) ?? id),
  )
  return [
    timeline.name,
    timeline.id,
    timeline.identity,
    timeline.customer,
    timeline.fuel,
    timeline.adjustment,
    timeline.result?.worst?.valve,
    ...complaints,
  ]
    .join(' ')
    .toLowerCase()
}

function urgency(timeline: Timeline, today: string): number {
  if (isDue(timeline, today)) return -1e6 - (timeline.result?.worst?.probability ?? 0)
  return timeline.look_day === null ? 1e6 : daysUntil(timeline.look_day, today)
}

function badness({ result }: Timeline): number {
  const { worst } = result ?? {}
  if (!worst) return 2
  return worst.leaning === 'in' ? worst.probability : -worst.probability
}

function lastDay(timeline: Timeline): string {
  return timeline.visits.at(-1)?.day ?? ''
}

export function lanesShown(
  timelines: Timeline[],
  {
    shown,
    order,
    typed,
    today,
    labels,
  }: { shown: Shown; order: Order; typed: string; today: string; labels: Map<string, string> },
): Timeline[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  const kept = timelines.filter((timeline) => {
    if (!isShown(timeline, shown, today)) return false
    const text = words.length > 0 ? wordsOf(timeline, labels) : ''
    return words.every((word) => text.includes(word))
  })
  // The timelines come by name, and sorting keeps that order among equals.
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
