import type { Timeline } from '@/api/client'

export type Work = { timeline: Timeline; one: Timeline['under_way'][number] }

const CAN_GO_ON = { ready: 0, open: 1, waiting: 2, done: 3 }

/** All work that is not done: what is promised first before the rest, then what can go on, then the oldest. */
export function workInOrder(timelines: Timeline[]): Work[] {
  return timelines
    .filter((timeline) => timeline.archived === null)
    .flatMap((timeline) => timeline.under_way.map((one) => ({ timeline, one })))
    .sort(
      ({ one: a }, { one: b }) =>
        (a.promised ?? '9999').localeCompare(b.promised ?? '9999') ||
        CAN_GO_ON[a.state] - CAN_GO_ON[b.state] ||
        a.day.localeCompare(b.day),
    )
}
