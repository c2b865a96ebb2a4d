import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { valveLifeAddress } from '@/api/addresses'
import type { Analysis, Estimate, StateAtVisit, ValveAnalysis } from '@/api/client'
import {
  day,
  sdText,
  length,
  lengthRange,
  movement,
  usage,
  type LengthUnit,
  fixed,
} from '@/design/format'
import { Sheet } from '@/design/Sheet'
import { VerdictMark } from '@/design/shapes'
import { feltText, gapOf, verdictText } from '@/head-plan/gap'
import { MarkedReading } from '@/head-plan/MarkedReading'
import { medianCrossing, type Truth } from './chartGeometry'
import { Basis } from './Basis'
import { Regimes } from './Regimes'
import { HistoryChart } from './HistoryChart'
import { changed, named } from '@/design/names'

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
      title={t`Valve ${valve.valve}: cylinder ${valve.cylinder}, ${named(valve.side)}`}
      aside={
        valve.standing ? (
          <StandingMark estimate={valve.standing} />
        ) : (
          <VerdictMark verdict="blank" word={t`not measured at the last visit`} />
        )
      }
    >
      <div className="p-3">
        <HistoryChart valve={valve} usageUnit={analysis.usage_unit} unit={unit} truth={truth} />
        <p className="mt-1 flex flex-wrap gap-x-4 text-sm text-ink-soft">
          <span>{t`○ as found`}</span>
          <span>{t`● as left`}</span>
          <span>{t`lower foot: went in; upper foot: would not`}</span>
          {valve.history.some((one) => one.found?.verdict_as_read ?? one.left?.verdict_as_read) && (
            <span>{t`dashed: before temperature correction`}</span>
          )}
          <span className="text-accent">{t`fan: forecast, 50 % and 90 %`}</span>
        </p>
        {calculating ? (
          <p className="mt-3 border-l-4 border-accent px-3 py-2 text-ink-soft" role="status">
            {t`Calculating the forecast of all valves…`}
          </p>
        ) : (
          <Ahead analysis={analysis} valve={valve} unit={unit} />
        )}
      </div>
      <HistoryTable valve={valve} usageUnit={analysis.usage_unit} unit={unit} />
      <p className="no-print px-4 py-2 text-sm">
        <Link to={valveLifeAddress(analysis.engine, valve.valve)}>
          {t`The whole life of this valve: shims, parts, findings`}
        </Link>
      </p>
    </Sheet>
  )
}

const TRENDS = {
  tightening: t`Tightening`,
  loosening: t`Loosening`,
  steady: t`Steady`,
  unclear: t`Trend unclear`,
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
        <Trans>
          {movement(drift.mean_mm_per_interval, unit)} ± {sdText(drift.sd_mm_per_interval, unit)}{' '}
          per {per}.
        </Trans>{' '}
        <OutOfSpec analysis={analysis} valve={valve} />
      </p>
      <Regimes analysis={analysis} valve={valve} />
      {sink && sink.sd_mm > 0 && (
        <p>
          <Trans>
            {sink.mean_mm >= 0 ? t`Valve sink to date` : t`Wear to date`}{' '}
            <strong>{length(Math.abs(sink.mean_mm), unit)}</strong> ± {length(sink.sd_mm, unit)}{' '}
            (adjustments added back). The ± is one standard deviation.
          </Trans>
        </p>
      )}
      {broke && (
        <p className="font-semibold text-tight">
          <Trans>
            Sudden change at visit {broke.visit}: far {changed(broke.direction)} than predicted (
            {fixed(Math.abs(broke.z), 1)} σ).
          </Trans>
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
  if (!even) return t`No forecast of going out of spec within ten intervals.`
  if (even.usage <= last) return t`Currently more likely ${named(even.side)} than in spec.`
  return t`50 % chance of being ${named(even.side)} at ${usage(even.usage, analysis.usage_unit)}.`
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
        <caption className="sr-only">
          <Trans>Readings of valve {valve.valve}, newest first</Trans>
        </caption>
        <thead>
          <tr className="border-b border-rule text-left text-ink-soft">
            <th className="py-1 pr-2 pl-4 font-normal">{t`visit`}</th>
            <th className="px-2 py-1 font-normal">{t`day`}</th>
            <th className="px-2 py-1 font-normal">{t`at`}</th>
            <th className="px-2 py-1 font-normal">{t`as found`}</th>
            <th className="px-2 py-1 font-normal">{t`as left`}</th>
          </tr>
        </thead>
        <tbody>
          {[...valve.history].reverse().map((state) => (
            <tr key={state.visit} className="border-b border-rule last:border-0">
              <td className="py-1 pr-2 pl-4" data-label={t`visit`}>
                {state.visit}
              </td>
              <td className="px-2 py-1 whitespace-nowrap" data-label={t`day`}>
                {day(state.date)}
              </td>
              <td className="px-2 py-1 whitespace-nowrap" data-label={t`at`}>
                {usage(state.usage, usageUnit)}
              </td>
              <td className="px-2 py-1" data-label={t`as found`}>
                <Known estimate={state.found} unit={unit} />
              </td>
              <td className="px-2 py-1" data-label={t`as left`}>
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
      {felt && (
        <span className="text-ink-soft">
          <Trans>before correction {feltText(felt, unit)}</Trans>
        </span>
      )}
      {estimate?.contradiction && <span className="text-tight">{t`contradictory`}</span>}
    </span>
  )
}

function StandingMark({ estimate }: { estimate: Estimate }) {
  const gap = gapOf(estimate)
  return <VerdictMark verdict={gap.verdict} word={verdictText(gap)} />
}

function Left({ state, unit }: { state: StateAtVisit; unit: LengthUnit }) {
  if (state.left) return <Known estimate={state.left} unit={unit} />
  if (state.renewed) return <span>{t`parts changed, not re-measured`}</span>
  const target = state.settings.at(-1)?.target_mm
  if (state.settings.length === 0) return <span className="text-ink-soft">{t`not adjusted`}</span>
  return (
    <span>
      {t({ context: 'a valve was set', message: 'set' })}
      {target != null && t` to ${lengthRange(target, target, unit)}`}
      {t`, not re-measured`}
    </span>
  )
}
