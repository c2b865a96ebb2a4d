import { memo } from 'react'
import { Link } from 'react-router'
import { caseAddress, engineAddress } from '@/api/addresses'
import type { Timeline } from '@/api/client'
import { chance, day, percent, usage } from '@/design/format'
import { VerdictMark } from '@/design/shapes'
import { isDue } from './timelineList'
import { TimelineDrawing } from './TimelineDrawing'
import type { LaneTime } from './timelineScale'

/** One engine along time: who it is, its visits and its next check, and what to know of it. */
export const LaneRow = memo(function LaneRow({
  lane,
  time,
  today,
  labels,
  failed,
}: {
  lane: Timeline
  time: LaneTime
  today: string
  labels: Map<string, string>
  failed: boolean
}) {
  return (
    <li className="lane grid grid-cols-2 gap-x-4 gap-y-1 border-b border-rule px-4 py-2 lg:grid-cols-[var(--lane-columns)]">
      <div className="min-w-0">
        <Link to={engineAddress(lane.id)} className="text-lg leading-tight font-semibold">
          {lane.name}
        </Link>
        <p className="text-sm text-ink-soft">{pace(lane)}</p>
        {lane.cases.map((open) => (
          <p key={open.id} className="text-sm">
            <Link to={caseAddress(lane.id, open.id)} className="font-semibold">
              {open.complaints.map((id) => labels.get(id) ?? id).join(', ') ||
                `case ${open.id}, no complaint noted yet`}
            </Link>
            <span className="text-ink-soft">, open since {day(open.opened)}</span>
          </p>
        ))}
      </div>
      <div className="order-last col-span-2 min-h-14 lg:order-none lg:col-span-1">
        <TimelineDrawing lane={lane} time={time} due={isDue(lane, today)} />
      </div>
      <div className="min-w-0 text-sm">
        <NextCheck lane={lane} today={today} failed={failed} />
      </div>
      <div className="col-span-2 min-w-0 text-sm lg:col-span-1">
        <Worst lane={lane} />
        <BuildingUp lane={lane} />
        <Changed lane={lane} />
      </div>
    </li>
  )
})

/** How much an engine is used, by its own visits. */
function pace(lane: Timeline): string {
  const count = `${lane.visits.length} ${lane.visits.length === 1 ? 'visit' : 'visits'}`
  if (lane.usage_per_day === null) return `${count}; rate of use not known yet`
  const week = lane.usage_per_day * 7
  return `${count}; about ${week < 10 ? week.toFixed(1) : Math.round(week)} ${lane.usage_unit} a week`
}

function NextCheck({ lane, today, failed }: { lane: Timeline; today: string; failed: boolean }) {
  const { result, look_day: lookDay } = lane
  if (!result) {
    return failed ? (
      <p className="text-tight">could not be reckoned; open the engine for why</p>
    ) : (
      <p className="text-ink-soft">being reckoned…</p>
    )
  }
  if (lane.visits.length === 0) return <p>Never looked at: begin with a first visit.</p>
  const { next_look: look } = result
  if (!look) return <p className="text-ink-soft">no clearance to foretell</p>
  const at = usage(look.usage, lane.usage_unit)
  const reached = lookDay !== null && lookDay <= today
  return (
    <p>
      <strong>{look.now || reached ? 'now' : lookDay === null ? at : day(lookDay)}</strong>
      <br />
      <span className="text-ink-soft">
        {!look.now && lookDay !== null && `at ${at}${reached ? `, about ${day(lookDay)}` : ''}; `}
        {look.why}
      </span>
    </p>
  )
}

function Worst({ lane: { result, visits } }: { lane: Timeline }) {
  if (!result || visits.length === 0) return null
  const { worst, tightening, loosening } = result
  const trends = [
    tightening.length > 0 && `tightening: ${tightening.join(', ')}`,
    loosening.length > 0 && `loosening: ${loosening.join(', ')}`,
  ].filter(Boolean)
  return (
    <>
      {worst ? (
        <p className="flex flex-wrap items-center gap-x-2">
          <VerdictMark
            verdict={worst.verdict}
            word={
              worst.verdict === 'open'
                ? `${worst.valve} open, leaning ${worst.leaning}`
                : `${worst.valve} ${worst.verdict}`
            }
          />
          <span className="text-ink-soft">{chance(worst.probability)}</span>
        </p>
      ) : (
        <p className="text-ink-soft">no valve read at the last visit</p>
      )}
      {trends.map((trend) => (
        <p key={String(trend)}>{trend}</p>
      ))}
    </>
  )
}

/** What the readings alone make likely, whoever complains or not. */
function BuildingUp({ lane: { result } }: { lane: Timeline }) {
  const causes = result?.building_up ?? []
  return causes.map((cause) => (
    <p key={`${cause.cause} ${cause.where}`} className="font-semibold">
      building up: {cause.label}, {cause.where}{' '}
      <span className="font-normal text-ink-soft">{percent(cause.probability)}</span>
    </p>
  ))
}

function Changed({ lane: { result } }: { lane: Timeline }) {
  const changed = result?.changed ?? []
  if (changed.length === 0) return null
  const breaks = changed.filter((one) => one.kind === 'break').map((one) => one.valve)
  const verdicts = changed.filter((one) => one.kind === 'verdict')
  const lines = [
    changed.some((one) => one.kind === 'shift') && 'everything moved at once: the checking',
    breaks.length > 0 && `${breaks.join(', ')} broke from trend`,
    ...[...new Set(verdicts.map((one) => `${one.was} to ${one.now}`))].map((step) => {
      const valves = verdicts.filter((one) => `${one.was} to ${one.now}` === step)
      return `${valves.map((one) => one.valve).join(', ')} from ${step}`
    }),
  ].filter(Boolean)
  return <p className="text-ink-soft">Since last time: {lines.join('; ')}.</p>
}
