import { Link } from 'react-router'
import { measureAddress } from '@/api/addresses'
import type { Decided, JudgedValve } from '@/api/client'
import { doubt, length, movement, type LengthUnit } from '@/design/format'
import { VerdictMark } from '@/design/shapes'
import { gapOf, gapText, temperatureText, verdictText, type Temperatures } from '@/head-plan/gap'
import { DecisionCell } from './DecisionCell'

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
  valves: JudgedValve[]
  temperatures: Temperatures
  unit: LengthUnit
  engineId: string
  visitId: string
  /** The valve picked on the plan. */
  picked: string | undefined
  onDecide: (judged: JudgedValve, decided: Decided | null) => void
}) {
  return (
    <table className="w-full border-collapse text-[0.95rem]">
      <thead>
        <tr className="border-b-2 border-ink text-left text-sm text-ink-soft">
          {['Valve', 'How it stands', 'Beside neighbours, and last time', 'Decided'].map(
            (heading) => (
              <th key={heading} className="px-2 py-1 font-normal">
                {heading}
              </th>
            ),
          )}
        </tr>
      </thead>
      <tbody>
        {valves.map((judged) => (
          <tr
            key={judged.valve}
            ref={(row) => {
              if (row && judged.valve === picked) row.scrollIntoView({ block: 'nearest' })
            }}
            className={`border-b border-rule align-top ${judged.valve === picked ? 'bg-accent-pale' : ''}`}
          >
            <th scope="row" className="px-2 py-1.5 text-left">
              <Link
                to={measureAddress(engineId, visitId, judged.valve)}
                aria-label={`Measure ${judged.valve}`}
              >
                {judged.valve}
              </Link>
            </th>
            <td className="px-2 py-1.5">
              <Standing judged={judged} temperatures={temperatures} unit={unit} />
            </td>
            <td className="px-2 py-1.5">
              <Neighbours judged={judged} unit={unit} />
              <Since judged={judged} unit={unit} />
            </td>
            <td className="px-2 py-1.5">
              <DecisionCell judged={judged} onDecide={(decided) => onDecide(judged, decided)} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Standing({
  judged,
  temperatures,
  unit,
}: {
  judged: JudgedValve
  temperatures: Temperatures
  unit: LengthUnit
}) {
  const { standing, phase, swing, advice, skipped, needs_number } = judged
  if (!standing) {
    return <span className="text-ink-soft">{skipped ? `passed over: ${skipped}` : 'not read'}</span>
  }
  const gap = gapOf(standing)
  const temperature = temperatureText(standing, temperatures, unit)
  return (
    <>
      <VerdictMark verdict={gap.verdict} word={verdictText(gap)} />
      <div className="text-sm">
        {gapText(gap, unit)}
        {phase === 'left' && ', as left'}
      </div>
      {temperature && <div className="text-sm text-ink-soft">{temperature}</div>}
      {needs_number && advice && (
        <div className="text-sm font-semibold text-accent">{numberWords(advice, unit)}</div>
      )}
      {standing.contradiction && (
        <div className="text-sm font-semibold text-tight">≠ contradicts itself: measure again</div>
      )}
      {swing?.swings && (
        <div className="text-sm font-semibold text-loose">
          swings by {doubt(swing.at_least_mm, unit)} or more on turning
        </div>
      )}
      {standing.verdict === 'open' && advice && (
        <div className="text-sm text-accent">{settledBy(advice, unit)}</div>
      )}
    </>
  )
}

/** What to measure before a shim can be chosen. */
function numberWords(advice: NonNullable<JudgedValve['advice']>, unit: LengthUnit): string {
  if (!advice.blades_mm) return 'no number is to be had with these blades: its shim is provisional'
  const blades = advice.blades_mm.map((blade) => length(blade, unit)).join(' + ')
  return `to choose a shim its clearance is needed: try ${blades}`
}

/** Which blade would settle an open valve. */
function settledBy(advice: NonNullable<JudgedValve['advice']>, unit: LengthUnit): string {
  if (advice.blades_mm) {
    const blades = advice.blades_mm.map((blade) => length(blade, unit)).join(' + ')
    return `${blades} would tell most`
  }
  return advice.would_settle_mm === null
    ? 'no blade can settle it'
    : `${length(advice.would_settle_mm, unit)} would settle it; the set has none`
}

function Neighbours({ judged, unit }: { judged: JudgedValve; unit: LengthUnit }) {
  const { neighbours } = judged
  if (!neighbours) return null
  return (
    <div className={neighbours.odd ? 'font-semibold text-loose' : 'whitespace-nowrap'}>
      {movement(neighbours.by_mm, unit)} off the others
      {neighbours.odd && <div>the odd one out</div>}
    </div>
  )
}

function Since({ judged, unit }: { judged: JudgedValve; unit: LengthUnit }) {
  const { last_time: last } = judged
  if (!last) return <div className="text-sm text-ink-soft">never read before</div>
  return (
    <>
      {last.moved_mm !== null && (
        <div className="whitespace-nowrap">{movement(last.moved_mm, unit)} since last time</div>
      )}
      <div className="text-sm whitespace-nowrap text-ink-soft">
        {last.visit}, {last.phase}: {gapText(gapOf(last.estimate), unit)}
      </div>
    </>
  )
}
