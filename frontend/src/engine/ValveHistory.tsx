import type { ReactNode } from 'react'
import type { Analysis, Estimate, StateAtVisit, ValveAnalysis } from '@/api/client'
import { day, doubt, length, lengthRange, movement, usage, type LengthUnit } from '@/design/format'
import { Sheet } from '@/design/Sheet'
import { VerdictMark } from '@/design/shapes'
import { gapOf, gapText, verdictText } from '@/head-plan/gap'
import { HistoryChart } from './HistoryChart'

/** One valve large: how it stands, where it came from, where it is heading. */
export function ValveHistory({
  analysis,
  valve,
  unit,
}: {
  analysis: Analysis
  valve: ValveAnalysis
  unit: LengthUnit
}) {
  return (
    <Sheet
      title={`Valve ${valve.valve}: cylinder ${valve.cylinder}, ${valve.side}`}
      aside={
        valve.standing ? (
          <VerdictMark verdict={valve.standing.verdict} word={verdictText(gapOf(valve.standing))} />
        ) : (
          <VerdictMark verdict="blank" word="not read at the last visit" />
        )
      }
    >
      <div className="p-3">
        <HistoryChart valve={valve} usageUnit={analysis.usage_unit} unit={unit} />
        <p className="mt-1 flex flex-wrap gap-x-4 text-sm text-ink-soft">
          <span>○ as found</span>
          <span>● as left</span>
          <span>foot below: went in; foot above: did not</span>
          <span className="text-accent">fan: ahead, 50 % and 90 %</span>
        </p>
        <Ahead analysis={analysis} valve={valve} unit={unit} />
      </div>
      <HistoryTable valve={valve} usageUnit={analysis.usage_unit} unit={unit} />
    </Sheet>
  )
}

function Ahead({
  analysis,
  valve,
  unit,
}: {
  analysis: Analysis
  valve: ValveAnalysis
  unit: LengthUnit
}) {
  const { provisional } = valve
  const since = provisional.since_visit
    ? `since it was set at visit ${provisional.since_visit}`
    : 'since the first visit'
  const per = usage(analysis.check_interval, analysis.usage_unit)
  return (
    <div className="mt-3 border-l-4 border-accent bg-accent-pale px-3 py-2">
      <p className="font-semibold">Ahead, provisional</p>
      {provisional.slope_mm_per_interval === null ? (
        <p>Too few readings {since} to draw a line: two at different usages are needed.</p>
      ) : (
        <>
          <p>
            {movement(provisional.slope_mm_per_interval, unit)} in {per} (give or take{' '}
            {doubt(provisional.slope_sd_mm_per_interval ?? 0, unit)}).{' '}
            <OutOfSpec analysis={analysis} valve={valve} />
          </p>
          <p className="text-sm text-ink-soft">
            A straight line through {provisional.readings} readings {since}, each weighted by how
            well it is known. It does not know what the other valves do, nor a drift that speeds up.
          </p>
        </>
      )}
      {provisional.sink && (
        <p className="mt-1">
          {provisional.sink.mean_mm >= 0 ? 'Closed' : 'Opened'} by{' '}
          <strong>{length(Math.abs(provisional.sink.mean_mm), unit)}</strong> in all (give or take{' '}
          {length(provisional.sink.sd_mm, unit)}), what settings gave back counted in.
        </p>
      )}
    </div>
  )
}

function OutOfSpec({ analysis, valve }: { analysis: Analysis; valve: ValveAnalysis }): ReactNode {
  const at = valve.provisional.out_of_spec_at?.q50
  const last = analysis.as_of_usage
  if (last === null) return null
  if (at == null) return 'Not expected out of spec within ten intervals.'
  if (at <= last) return 'More likely out of spec than in, as it stands.'
  return `Even odds of being out of spec at ${usage(at, analysis.usage_unit)}.`
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
    <table className="w-full border-collapse border-t border-rule text-sm">
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
            <td className="py-1 pr-2 pl-4">{state.visit}</td>
            <td className="px-2 py-1 whitespace-nowrap">{day(state.date)}</td>
            <td className="px-2 py-1 whitespace-nowrap">{usage(state.usage, usageUnit)}</td>
            <td className="px-2 py-1">
              <Known estimate={state.found} unit={unit} />
            </td>
            <td className="px-2 py-1">
              <Left state={state} unit={unit} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Known({ estimate, unit }: { estimate: Estimate | null; unit: LengthUnit }) {
  if (!estimate) return <span className="text-ink-soft">not read</span>
  return (
    <span className="inline-flex flex-wrap items-center gap-x-2">
      <VerdictMark verdict={estimate.verdict} />
      {gapText(gapOf(estimate), unit)}
      {estimate.contradiction && <span className="text-tight">contradicts itself</span>}
    </span>
  )
}

function Left({ state, unit }: { state: StateAtVisit; unit: LengthUnit }) {
  if (state.left) return <Known estimate={state.left} unit={unit} />
  const target = state.settings.at(-1)?.target_mm
  if (state.settings.length === 0) return <span className="text-ink-soft">not touched</span>
  return (
    <span>
      set{target != null && ` to ${lengthRange(target, target, unit)}`}, not measured again
    </span>
  )
}
