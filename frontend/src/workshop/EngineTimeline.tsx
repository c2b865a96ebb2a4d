import { plural, t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { VERDICT_WORDS, type VerdictWord } from '@/design/shapes'
import { memo } from 'react'
import { Link } from 'react-router'
import { caseAddress, engineAddress } from '@/api/addresses'
import type { Timeline } from '@/api/client'
import { chance, day, percent, usage, fixed } from '@/design/format'
import { VerdictMark } from '@/design/shapes'
import { isDue } from './timelineList'
import { TimelineDrawing } from './TimelineDrawing'
import type { LaneTime } from './timelineScale'

/** One engine along time: who it is, its visits and its next check, and what to know of it. */
export const LaneRow = memo(function LaneRow({
  timeline,
  time,
  today,
  labels,
  failed,
}: {
  timeline: Timeline
  time: LaneTime
  today: string
  labels: Map<string, string>
  failed: boolean
}) {
  return (
    <li className="timeline grid grid-cols-2 gap-x-4 gap-y-1 border-b border-rule px-4 py-2 lg:grid-cols-[var(--lane-columns)]">
      <div className="min-w-0">
        <Link to={engineAddress(timeline.id)} className="text-lg leading-tight font-semibold">
          {timeline.name}
        </Link>
        <p className="text-sm text-ink-soft">{pace(timeline)}</p>
        {timeline.cases.map((open) => (
          <p key={open.id} className="text-sm">
            <Link to={caseAddress(timeline.id, open.id)} className="font-semibold">
              {open.complaints.map((id) => labels.get(id) ?? id).join(', ') ||
                t`case ${open.id}, no complaint entered yet`}
            </Link>
            <span className="text-ink-soft">
              <Trans>, open since {day(open.opened)}</Trans>
            </span>
          </p>
        ))}
      </div>
      <div className="order-last col-span-2 min-h-14 lg:order-none lg:col-span-1">
        <TimelineDrawing timeline={timeline} time={time} due={isDue(timeline, today)} />
      </div>
      <div className="min-w-0 text-sm">
        <NextCheck timeline={timeline} today={today} failed={failed} />
      </div>
      <div className="col-span-2 min-w-0 text-sm lg:col-span-1">
        <Worst timeline={timeline} />
        <DevelopingLine timeline={timeline} />
        <Changed timeline={timeline} />
      </div>
    </li>
  )
})

/** How much an engine is used, by its own visits. */
function pace(timeline: Timeline): string {
  const count = plural(timeline.visits.length, { one: '# visit', other: '# visits' })
  if (timeline.usage_per_day === null) return t`${count}; rate of use not known yet`
  const week = timeline.usage_per_day * 7
  return t`${count}; about ${week < 10 ? fixed(week, 1) : Math.round(week)} ${timeline.usage_unit} per week`
}

function NextCheck({
  timeline,
  today,
  failed,
}: {
  timeline: Timeline
  today: string
  failed: boolean
}) {
  const { result, look_day: lookDay } = timeline
  if (!result) {
    return failed ? (
      <p className="text-tight">{t`could not be calculated; open the engine for the reason`}</p>
    ) : (
      <p className="text-ink-soft">{t`calculating…`}</p>
    )
  }
  if (timeline.visits.length === 0) return <p>{t`No visits yet: start with a first visit.`}</p>
  const { check_due: look } = result
  if (!look) return <p className="text-ink-soft">{t`no clearance to predict`}</p>
  const at = usage(look.usage, timeline.usage_unit)
  const reached = lookDay !== null && lookDay <= today
  return (
    <p>
      <strong>{look.now || reached ? t`now` : lookDay === null ? at : day(lookDay)}</strong>
      <br />
      <span className="text-ink-soft">
        {!look.now && lookDay !== null && t`at ${at}${reached ? t`, about ${day(lookDay)}` : ''}; `}
        {look.why}
      </span>
    </p>
  )
}

function Worst({ timeline: { result, visits } }: { timeline: Timeline }) {
  if (!result || visits.length === 0) return null
  const { worst, tightening, loosening } = result
  const trends = [
    tightening.length > 0 && t`tightening: ${tightening.join(', ')}`,
    loosening.length > 0 && t`loosening: ${loosening.join(', ')}`,
  ].filter(Boolean)
  return (
    <>
      {worst ? (
        <p className="flex flex-wrap items-center gap-x-2">
          <VerdictMark
            verdict={worst.verdict}
            word={
              worst.verdict === 'open'
                ? `${worst.valve} inconclusive, probably ${VERDICT_WORDS[worst.leaning]}`
                : `${worst.valve} ${VERDICT_WORDS[worst.verdict]}`
            }
          />
          <span className="text-ink-soft">{chance(worst.probability)}</span>
        </p>
      ) : (
        <p className="text-ink-soft">{t`no valve measured at the last visit`}</p>
      )}
      {trends.map((trend) => (
        <p key={String(trend)}>{trend}</p>
      ))}
    </>
  )
}

/** What the readings alone make likely, whoever complains or not. */
function DevelopingLine({ timeline: { result } }: { timeline: Timeline }) {
  const causes = result?.developing ?? []
  return causes.map((cause) => (
    <p key={`${cause.cause} ${cause.where}`} className="font-semibold">
      <Trans>
        developing: {cause.label}, {cause.where}{' '}
        <span className="font-normal text-ink-soft">{percent(cause.probability)}</span>
      </Trans>
    </p>
  ))
}

const wordOf = (one: VerdictWord | null) => (one === null ? t`not measured` : VERDICT_WORDS[one])

function Changed({ timeline: { result } }: { timeline: Timeline }) {
  const changed = result?.changed ?? []
  if (changed.length === 0) return null
  const breaks = changed.filter((one) => one.kind === 'break').map((one) => one.valve)
  const verdicts = changed.filter((one) => one.kind === 'verdict')
  const lines = [
    changed.some((one) => one.kind === 'shift') &&
      t`all readings moved together: check how they were measured`,
    breaks.length > 0 && t`${breaks.join(', ')} changed suddenly`,
    ...[...new Set(verdicts.map((one) => `${wordOf(one.was)}|${wordOf(one.now)}`))].map((step) => {
      const like = verdicts.filter((one) => `${wordOf(one.was)}|${wordOf(one.now)}` === step)
      const [was = '', now = ''] = step.split('|')
      return t`${like.map((one) => one.valve).join(', ')} from ${was} to ${now}`
    }),
  ].filter(Boolean)
  return (
    <p className="text-ink-soft">
      <Trans>Changed at the last visit: {lines.join('; ')}.</Trans>
    </p>
  )
}
