import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { Timeline } from '@/api/client'
import { day, percent, usage } from '@/design/format'
import type { LaneTime } from './timelineScale'

const MIDDLE = 26

/** The timeline itself: visits behind as ticks, today, and the next check ahead as a fan that darkens with the risk. */
export function TimelineDrawing({
  timeline,
  time,
  due,
}: {
  timeline: Timeline
  time: LaneTime
  due: boolean
}) {
  const last = timeline.visits.at(-1)
  const earlier = timeline.visits.filter((visit) => !time.inside(visit.day)).length
  return (
    <svg
      width="100%"
      height={54}
      role="img"
      aria-label={spoken(timeline, due)}
      className="block overflow-hidden"
    >
      {time.halves.map((half) => (
        <line
          key={half.key}
          x1={`${half.at}%`}
          x2={`${half.at}%`}
          y1={0}
          y2={54}
          stroke="var(--color-rule)"
          strokeWidth={half.isYear ? 1 : 0.5}
        />
      ))}
      <line
        x1="0%"
        x2={`${time.at(time.today)}%`}
        y1={MIDDLE}
        y2={MIDDLE}
        stroke="var(--color-rule-strong)"
      />
      <Fan timeline={timeline} time={time} />
      <line
        x1={`${time.at(time.today)}%`}
        x2={`${time.at(time.today)}%`}
        y1={0}
        y2={54}
        stroke="var(--color-accent)"
        strokeDasharray="2 3"
      />
      {timeline.visits
        .filter((visit) => time.inside(visit.day))
        .map((visit) => (
          <g key={visit.id}>
            <title>
              {`${visit.id}, ${day(visit.day)}, ${usage(visit.usage, timeline.usage_unit)}`}
              {visit.work === 'head-work' && t`, head off`}
              {visit.renewed.length > 0 && t`, parts changed at ${visit.renewed.join(', ')}`}
            </title>
            <line
              x1={`${time.at(visit.day)}%`}
              x2={`${time.at(visit.day)}%`}
              y1={MIDDLE - 9}
              y2={MIDDLE + 9}
              stroke="var(--color-ink)"
              strokeWidth={visit === last ? 2.5 : 1.5}
            />
            {(visit.work === 'head-work' || visit.renewed.length > 0) && (
              <line
                x1={`${time.at(visit.day)}%`}
                x2={`${time.at(visit.day) + 1.2}%`}
                y1={MIDDLE - 9}
                y2={MIDDLE - 9}
                stroke="var(--color-ink)"
                strokeWidth={2.5}
              />
            )}
          </g>
        ))}
      {earlier > 0 && (
        <text x={2} y={11} fontSize={12} fill="var(--color-ink-soft)">
          <Trans>{earlier} earlier</Trans>
        </text>
      )}
      {last && (
        <text
          x={`${Math.max(time.at(last.day), 1)}%`}
          y={MIDDLE + 23}
          fontSize={12}
          textAnchor={time.inside(last.day) ? 'end' : 'start'}
          fill="var(--color-ink-soft)"
        >
          {day(last.day)}
        </text>
      )}
    </svg>
  )
}

function Fan({ timeline, time }: { timeline: Timeline; time: LaneTime }) {
  const { fan, look_day: look } = timeline
  const beyond = look !== null && time.at(look) > 100
  return (
    <>
      {fan.map((one, index) => {
        const from = time.at(one.day)
        const next = fan[index + 1]
        const to = next ? Math.min(time.at(next.day), 100) : Math.min(from + 6, 100)
        if (from >= 100 || to <= 0) return null
        const tall = 5 + 4 * (index + 1)
        return (
          <rect
            key={one.risk}
            x={`${Math.max(from, 0)}%`}
            width={`${Math.max(to - Math.max(from, 0), 0.3)}%`}
            y={MIDDLE - tall / 2}
            height={tall}
            fill="var(--color-accent)"
            opacity={0.1 + 0.12 * index}
          >
            <title>{t`over ${percent(one.risk)} chance that a valve is out of spec from ${day(one.day)}`}</title>
          </rect>
        )
      })}
      {look !== null && !beyond && (
        <svg x={`${time.at(look)}%`} y={MIDDLE} overflow="visible">
          <path d="M0 -13 V13 M-4 -13 H4 M-4 13 H4" stroke="var(--color-accent)" strokeWidth={2} />
        </svg>
      )}
      {beyond && (
        <text x="99.5%" y={MIDDLE + 4} fontSize={12} textAnchor="end" fill="var(--color-accent)">
          {t`later ›`}
        </text>
      )}
    </>
  )
}

function spoken(timeline: Timeline, due: boolean): string {
  const last = timeline.visits.at(-1)
  if (!last) return t`no visit yet`
  const next = due
    ? t`next check due now`
    : timeline.look_day
      ? t`next check about ${day(timeline.look_day)}`
      : t`date of the next check not known`
  return t`${timeline.visits.length} visits, last on ${day(last.day)}; ${next}`
}
