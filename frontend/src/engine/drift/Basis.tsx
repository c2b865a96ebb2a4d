import type { Analysis, ValveAnalysis } from '@/api/client'
import { chance, doubt, length, movement, usage, type LengthUnit } from '@/design/format'

/** What the figures of a valve rest on: its readings against what was foretold, and what was assumed. */
export function Basis({
  analysis,
  valve,
  unit,
}: {
  analysis: Analysis
  valve: ValveAnalysis
  unit: LengthUnit
}) {
  const rests = valve.rests_on
  if (!rests) return null
  const since = rests.since ? `since the head work at visit ${rests.since}` : 'since the first'
  const side = rests.side_drift_mm_per_interval
  const per = usage(analysis.check_interval, analysis.usage_unit)
  return (
    <div className="mt-1 text-sm">
      {rests.visits_read < 2 && (
        <p className="font-semibold">
          {rests.visits_read === 0
            ? 'Never read in this time: what is said is what is believed of any valve beforehand.'
            : 'Read at one visit only: which way it goes is what is believed of any valve beforehand.'}
        </p>
      )}
      <details>
        <summary className="min-h-6 cursor-pointer text-accent underline">
          What this rests on
        </summary>
        <div className="mt-1 flex flex-col gap-2">
          <p>
            {rests.readings} {rests.readings === 1 ? 'reading' : 'readings'} at {rests.visits_read}{' '}
            {rests.visits_read === 1 ? 'visit' : 'visits'} {since}, as what went and what did not,
            together with those of all other valves.
          </p>
          {rests.foretold.length > 0 && <Foretold valve={valve} unit={unit} />}
          {rests.doubted.map((one) => (
            <p key={`${one.visit}${one.phase}${one.blades_mm.join()}${one.felt}`}>
              Visit {one.visit}, as {one.phase}:{' '}
              {one.blades_mm.map((mm) => mm.toFixed(2)).join(' + ')} mm “{one.felt}” may be a slip
              of the pen ({chance(one.probability)}).
            </p>
          ))}
          <p>
            Its side shares {movement(side.mean_mm, unit)} in {per}, give or take{' '}
            {doubt(side.sd_mm, unit)}; valves that were read lend that to those that were not.
          </p>
          <Assumed analysis={analysis} unit={unit} />
        </div>
      </details>
    </div>
  )
}

function Foretold({ valve, unit }: { valve: ValveAnalysis; unit: LengthUnit }) {
  const found = new Map(valve.history.map((state) => [state.visit, state.found]))
  return (
    <table className="w-full border-collapse">
      <thead>
        <tr className="border-b border-rule-strong text-left text-ink-soft">
          <th className="py-1 pr-2 font-normal">visit</th>
          <th className="px-2 py-1 font-normal">foretold by those before</th>
          <th className="px-2 py-1 font-normal">read, on its own</th>
          <th className="px-2 py-1 font-normal">apart, in doubts</th>
        </tr>
      </thead>
      <tbody>
        {(valve.rests_on?.foretold ?? []).map((one) => {
          const read = found.get(one.visit)
          return (
            <tr key={one.visit} className="border-b border-rule">
              <td className="py-1 pr-2">{one.visit}</td>
              <td className="px-2 py-1">
                {length(Math.max(one.mean_mm, 0), unit)} ± {doubt(one.sd_mm, unit)}
              </td>
              <td className="px-2 py-1">
                {read
                  ? `${length(Math.max(read.mean_mm, 0), unit)} ± ${doubt(read.sd_mm, unit)}`
                  : '–'}
              </td>
              <td className="px-2 py-1">
                {one.z === null ? 'within its bound' : Math.abs(one.z).toFixed(1)}
                {one.z !== null && Math.abs(one.z) > 3 && (one.z < 0 ? ', tighter' : ', looser')}
              </td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

function Assumed({ analysis, unit }: { analysis: Analysis; unit: LengthUnit }) {
  const { assumed } = analysis
  if (!assumed) return null
  return (
    <p className="text-ink-soft">
      Assumed: before its first reading a clearance lies about the middle of its spec, give or take{' '}
      {doubt(assumed.prior_sd_mm, unit)}; a side drifts by up to about{' '}
      {doubt(assumed.side_drift_sd_mm, unit)} an interval either way and a drift wanders by{' '}
      {doubt(assumed.drift_wander, unit)}; a screw set and not measured again is within{' '}
      {doubt(assumed.set_to_target_sd_mm, unit)} of its target; all readings of a visit share a
      shift of about {doubt(assumed.visit_shift_sd_mm, unit)}, more where the temperature is not
      certain; one answer in {Math.round(1 / assumed.slip_probability)} is a slip of the pen.
    </p>
  )
}
