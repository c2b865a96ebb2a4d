import { locale } from '@/design/language'
import { scaleTime, type ScaleTime } from 'd3-scale'

/** The time that all timelines share: two years behind, one ahead, as per cents of the timeline. */

const MONTHS_BEHIND = 24
const MONTHS_AHEAD = 12

export type LaneTime = {
  today: Date
  from: Date
  to: Date
  at: (day: string | Date) => number
  inside: (day: string) => boolean
  halves: { key: string; at: number; word: string; isYear: boolean }[]
}

export function dateOf(isoDay: string): Date {
  return new Date(`${isoDay}T12:00:00`)
}

export function laneTime(isoToday: string): LaneTime {
  const today = dateOf(isoToday)
  const month = (offset: number) => new Date(today.getFullYear(), today.getMonth() + offset, 1)
  const from = month(-MONTHS_BEHIND)
  const to = month(MONTHS_AHEAD + 1)
  const scale: ScaleTime<number, number> = scaleTime().domain([from, to]).range([0, 100])
  const at = (day: string | Date) => scale(typeof day === 'string' ? dateOf(day) : day)
  const months = Array.from({ length: MONTHS_BEHIND + MONTHS_AHEAD }, (_, index) =>
    month(index - MONTHS_BEHIND),
  ).filter((first) => first.getMonth() % 6 === 0)
  return {
    today,
    from,
    to,
    at,
    inside: (day) => dateOf(day) >= from && dateOf(day) <= to,
    halves: months.map((first) => ({
      key: first.toISOString(),
      at: at(first),
      word: first.toLocaleDateString(locale(), { month: 'short', year: 'numeric' }),
      isYear: first.getMonth() === 0,
    })),
  }
}
