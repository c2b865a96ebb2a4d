import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { valveLifeAddress } from '@/api/addresses'
import type { Analysis, Estimate, StateAtVisit, ValveAnalysis } from '@/api/client'
import { day, sdText, length, lengthRange, movement, usage, type LengthUnit } from '@/design/format'
import { Sheet } from '@/design/Sheet'
import { VerdictMark } from '@/design/shapes'
import { feltText, gapOf, verdictText } from '@/head-plan/gap'
import { MarkedReading } from '@/head-plan/MarkedReading'
import { medianCrossing, type Truth } from './chartGeometry'
import { Basis } from './Basis'
import { Regimes } from './Regimes'
import { HistoryChart } from './HistoryChart'

/** One valve large: how it stands, where it came from, where it is heading. */
export function ValveHistory({
  analysis,
  valve,
  unit,
  calculating,
  truth,
}: {
  analysis: Analysis
  valve: ValveAnalysis
  unit: LengthUnit
  /** What is ahead is not known yet. */
  calculating: boolean
  truth?: Truth
}) {
  return (
    <Sheet
      title={`Valve ${valve.valve}: cylinder ${valve.cylinder}, ${valve.side}`}
      aside={
        valve.standing ? (
          <StandingMark estimate={valve.standing} />
        ) : (
          <VerdictMark verdict="blank" word="not measured at the last visit" />
        )
      }
    >
      <div className="p-3">
        <HistoryChart valve={valve} usageUnit={analysis.usage_unit} unit={unit} truth={truth} />
        <p className="mt-1 flex flex-wrap gap-x-4 text-sm text-ink-soft">
          <span>○ as found</span>
          <span>● as left</span>
          <span>lower foot: went in; upper foot: would not</span>
          {valve.history.some((one) => one.found?.verdict_as_read ?? one.left?.verdict_as_read) && (
            <span>dashed: before temperature correction</span>
          )}
          <span className="text-accent">fan: forecast, 50 % and 90 %</span>
        </p>
        {calculating ? (
          <p className="mt-3 border-l-4 border-accent px-3 py-2 text-ink-soft" role="status">
            Calculating the forecast of all valves…
          </p>
        ) : (
          <Ahead analysis={analysis} valve={valve} unit={unit} />
        )}
      </div>
      <HistoryTable valve={valve} usageUnit={analysis.usage_unit} unit={unit} />
      <p className="no-print px-4 py-2 text-sm">
        <Link to={valveLifeAddress(analysis.engine, valve.valve)}>
          The whole life of this valve: shims, parts, findings
        </Link>
      </p>
    </Sheet>
  )
}

const TRENDS = {
  tightening: 'Tightening',
  loosening: 'Loosening',
  steady: 'Steady',
  unclear: 'Trend unclear',
}

/** What the drift model says of a valve: where it goes, how far it sank, when it leaves its spec. */
function Ahead({
  analysis,
  valve,
  unit,
}: {
  analysis: Analysis
  valve: ValveAnalysis
  unit: LengthUnit
}) {
  const { drift, sink, break: broke } = valve
  if (!drift) return null
  const per = usage(analysis.check_interval, analysis.usage_unit)
  return (
    <div className="mt-3 border-l-4 border-accent bg-accent-pale px-3 py-2">
      <p className="font-semibold">{TRENDS[drift.trend]}</p>
      <p>
        {movement(drift.mean_mm_per_interval, unit)} ± {sdText(drift.sd_mm_per_interval, unit)} per{' '}
        {per}. <OutOfSpec analysis={analysis} valve={valve} />
      </p>
      <Regimes analysis={analysis} valve={valve} />
      {sink && sink.sd_mm > 0 && (
        <p>
          {sink.mean_mm >= 0 ? 'Valve sink to date' : 'Wear to date'}{' '}
          <strong>{length(Math.abs(sink.mean_mm), unit)}</strong> ± {length(sink.sd_mm, unit)}{' '}
          (adjustments added back). The ± is one standard deviation.
        </p>
      )}
      {broke && (
        <p className="font-semibold text-tight">
          Sudden change at visit {broke.visit}: far {broke.direction}er than predicted (
          {Math.abs(broke.z).toFixed(1)} σ).
        </p>
      )}
      <Basis analysis={analysis} valve={valve} unit={unit} />
    </div>
  )
}

function OutOfSpec({ analysis, valve }: { analysis: Analysis; valve: ValveAnalysis }): ReactNode {
  const even = medianCrossing(valve)
  const last = analysis.as_of_usage
  if (last === null) return null
  if (!even) return 'No forecast of going out of spec within ten intervals.'
  if (even.usage <= last) return `Currently more likely ${even.side} than in spec.`
  return `50 % chance of being ${even.side} at ${usage(even.usage, analysis.usage_unit)}.`
}

function HistoryTable({
  valve,
  usageUnit,
  unit,
}: {
  valve: ValveAnalysis
  usageUnit: string
  unit: LengthUnit
}) {
  if (valve.history.length === 0) return null
  return (
    <div className="overflow-x-auto">
      <table className="cards-when-narrow w-full border-collapse border-t border-rule text-sm">
        <caption className="sr-only">Readings of valve {valve.valve}, newest first</caption>
        <thead>
          <tr className="border-b border-rule text-left text-ink-soft">
            <th className="py-1 pr-2 pl-4 font-normal">visit</th>
            <th className="px-2 py-1 font-normal">day</th>
            <th className="px-2 py-1 font-normal">at</th>
            <th className="px-2 py-1 font-normal">as found</th>
            <th className="px-2 py-1 font-normal">as left</th>
          </tr>
        </thead>
        <tbody>
          {[...valve.history].reverse().map((state) => (
            <tr key={state.visit} className="border-b border-rule last:border-0">
              <td className="py-1 pr-2 pl-4" data-label="visit">
                {state.visit}
              </td>
              <td className="px-2 py-1 whitespace-nowrap" data-label="day">
                {day(state.date)}
              </td>
              <td className="px-2 py-1 whitespace-nowrap" data-label="at">
                {usage(state.usage, usageUnit)}
              </td>
              <td className="px-2 py-1" data-label="as found">
                <Known estimate={state.found} unit={unit} />
              </td>
              <td className="px-2 py-1" data-label="as left">
                <Left state={state} unit={unit} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Known({ estimate, unit }: { estimate: Estimate | null; unit: LengthUnit }) {
  const felt = estimate && gapOf(estimate).felt
  return (
    <span className="inline-flex flex-wrap items-center gap-x-2">
      <MarkedReading estimate={estimate} unit={unit} />
      {felt && <span className="text-ink-soft">before correction {feltText(felt, unit)}</span>}
      {estimate?.contradiction && <span className="text-tight">contradictory</span>}
    </span>
  )
}

function StandingMark({ estimate }: { estimate: Estimate }) {
  const gap = gapOf(estimate)
  return <VerdictMark verdict={gap.verdict} word={verdictText(gap)} />
}

function Left({ state, unit }: { state: StateAtVisit; unit: LengthUnit }) {
  if (state.left) return <Known estimate={state.left} unit={unit} />
  if (state.renewed) return <span>parts changed, not re-measured</span>
  const target = state.settings.at(-1)?.target_mm
  if (state.settings.length === 0) return <span className="text-ink-soft">not adjusted</span>
  return (
    <span>set{target != null && ` to ${lengthRange(target, target, unit)}`}, not re-measured</span>
  )
}
