import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Link } from 'react-router'
import { measureAddress } from '@/api/addresses'
import type { Decided, AssessedValve } from '@/api/client'
import { sdText, length, movement, type LengthUnit } from '@/design/format'
import { VerdictMark } from '@/design/shapes'
import { gapOf, gapText, temperatureText, verdictText, type Temperatures } from '@/head-plan/gap'
import { DecisionCell } from './DecisionCell'
import { named } from '@/design/names'

/** Every valve of the visit: its verdict in words, its neighbours, last time, what is decided. */
export function AssessmentTable({
  valves,
  temperatures,
  unit,
  engineId,
  visitId,
  picked,
  onDecide,
}: {
  valves: AssessedValve[]
  temperatures: Temperatures
  unit: LengthUnit
  engineId: string
  visitId: string
  /** The valve picked on the plan. */
  picked: string | undefined
  onDecide: (assessed: AssessedValve, decided: Decided | null) => Promise<unknown>
}) {
  return (
    <table className="cards-when-narrow w-full border-collapse text-[0.95rem]">
      <thead>
        <tr className="border-b-2 border-ink text-left text-sm text-ink-soft">
          {[t`Valve`, t`Verdict`, t`Compared with neighbours and last time`, t`Decision`].map(
            (heading) => (
              <th key={heading} className="px-2 py-1 font-normal">
                {heading}
              </th>
            ),
          )}
        </tr>
      </thead>
      <tbody>
        {valves.map((assessed) => (
          <tr
            key={assessed.valve}
            ref={(row) => {
              if (row && assessed.valve === picked) row.scrollIntoView({ block: 'nearest' })
            }}
            className={`border-b border-rule align-top ${assessed.valve === picked ? 'bg-accent-pale' : ''}`}
          >
            <th scope="row" className="px-2 py-1.5 text-left">
              <Link
                to={measureAddress(engineId, visitId, assessed.valve)}
                aria-label={t`Measure ${assessed.valve}`}
              >
                {assessed.valve}
              </Link>
            </th>
            <td className="px-2 py-1.5" data-wide>
              <Standing assessed={assessed} temperatures={temperatures} unit={unit} />
            </td>
            <td className="px-2 py-1.5" data-label={t`Compared`} data-wide>
              <Neighbours assessed={assessed} unit={unit} />
              <Since assessed={assessed} unit={unit} />
            </td>
            <td className="px-2 py-1.5" data-label={t`Decision`} data-wide>
              <DecisionCell
                assessed={assessed}
                onDecide={(decided) => onDecide(assessed, decided)}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Standing({
  assessed,
  temperatures,
  unit,
}: {
  assessed: AssessedValve
  temperatures: Temperatures
  unit: LengthUnit
}) {
  const { standing, phase, swing, advice, skipped, needs_number } = assessed
  if (!standing) {
    return (
      <span className="text-ink-soft">{skipped ? t`skipped: ${skipped}` : t`not measured`}</span>
    )
  }
  const gap = gapOf(standing)
  const temperature = temperatureText(standing, temperatures, unit)
  return (
    <>
      <VerdictMark verdict={gap.verdict} word={verdictText(gap)} />
      <div className="text-sm">
        {gapText(gap, unit)}
        {phase === 'left' && t`, as left`}
      </div>
      {temperature && <div className="text-sm text-ink-soft">{temperature}</div>}
      {needs_number && advice && (
        <div className="text-sm font-semibold text-accent">{numberWords(advice, unit)}</div>
      )}
      {standing.contradiction && (
        <div className="text-sm font-semibold text-tight">{t`≠ contradictory: re-measure`}</div>
      )}
      {swing?.swings && (
        <div className="text-sm font-semibold text-loose">
          <Trans>changes by {sdText(swing.at_least_mm, unit)} or more from turn to turn</Trans>
        </div>
      )}
      {standing.verdict === 'open' && advice && (
        <div className="text-sm text-accent">{settledBy(advice, unit)}</div>
      )}
    </>
  )
}

/** What to measure before a shim can be chosen. */
function numberWords(advice: NonNullable<AssessedValve['advice']>, unit: LengthUnit): string {
  if (!advice.blades_mm) return t`these blades give no figure: its shim is provisional`
  const blades = advice.blades_mm.map((blade) => length(blade, unit)).join(' + ')
  return t`to choose a shim, measure its clearance: try ${blades}`
}

/** Which blade would settle an open valve. */
function settledBy(advice: NonNullable<AssessedValve['advice']>, unit: LengthUnit): string {
  if (advice.blades_mm) {
    const blades = advice.blades_mm.map((blade) => length(blade, unit)).join(' + ')
    return t`try ${blades} next`
  }
  return advice.would_settle_mm === null
    ? t`no blade can decide it`
    : t`${length(advice.would_settle_mm, unit)} would decide it; the set has none`
}

function Neighbours({ assessed, unit }: { assessed: AssessedValve; unit: LengthUnit }) {
  const { neighbours } = assessed
  if (!neighbours) return null
  return (
    <div className={neighbours.odd ? 'font-semibold text-loose' : 'whitespace-nowrap'}>
      <Trans>{movement(neighbours.by_mm, unit)} from the others</Trans>
      {neighbours.odd && <div>{t`outlier`}</div>}
    </div>
  )
}

function Since({ assessed, unit }: { assessed: AssessedValve; unit: LengthUnit }) {
  const { last_time: last } = assessed
  if (!last) return <div className="text-sm text-ink-soft">{t`first reading`}</div>
  return (
    <>
      {last.moved_mm !== null && (
        <div className="whitespace-nowrap">
          <Trans>{movement(last.moved_mm, unit)} since last time</Trans>
        </div>
      )}
      <div className="text-sm whitespace-nowrap text-ink-soft">
        {last.visit}, {named(last.phase)}: {gapText(gapOf(last.estimate), unit)}
      </div>
    </>
  )
}
