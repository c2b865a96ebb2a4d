import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import type { Analysis, ValveAnalysis } from '@/api/client'
import { chance, sdText, length, movement, usage, type LengthUnit, fixed } from '@/design/format'
import { named } from '@/design/names'

/** What the figures of a valve rest on: its readings against what was predicted, and what was assumed. */
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
  const since = rests.since ? t`since the head work at visit ${rests.since}` : t`since the first`
  const side = rests.side_drift_mm_per_interval
  const per = usage(analysis.check_interval, analysis.usage_unit)
  return (
    <div className="mt-1 text-sm">
      {rests.visits_read < 2 && (
        <p className="font-semibold">
          {rests.visits_read === 0
            ? t`Not measured in this period: the figures are the prior for any valve.`
            : t`Measured at one visit only: its drift is the prior for any valve.`}
        </p>
      )}
      <details>
        <summary className="min-h-6 cursor-pointer text-accent underline">
          {t`Basis of these figures`}
        </summary>
        <div className="mt-1 flex flex-col gap-2">
          <p>
            <Trans>
              <Plural value={rests.readings} one="# reading" other="# readings" /> at{' '}
              <Plural value={rests.visits_read} one="# visit" other="# visits" /> {since}, as which
              blades went in and which did not, together with those of all other valves.
            </Trans>
          </p>
          {rests.predicted.length > 0 && <Predictions valve={valve} unit={unit} />}
          {rests.possible_entry_errors.map((one) => (
            <p key={`${one.visit}${one.phase}${one.blades_mm.join()}${one.felt}`}>
              <Trans>
                Visit {one.visit}, as {named(one.phase)}:{' '}
                {one.blades_mm.map((mm) => fixed(mm, 2)).join(' + ')} mm “{named(one.felt)}” may be
                an entry error: {chance(one.probability)}.
              </Trans>
            </p>
          ))}
          <p>
            <Trans>
              Drift shared by its side: {movement(side.mean_mm, unit)} in {per} ±{' '}
              {sdText(side.sd_mm, unit)}; valves that were measured inform those that were not.
            </Trans>
          </p>
          <Assumed analysis={analysis} unit={unit} />
        </div>
      </details>
    </div>
  )
}

function Predictions({ valve, unit }: { valve: ValveAnalysis; unit: LengthUnit }) {
  const found = new Map(valve.history.map((state) => [state.visit, state.found]))
  return (
    <table className="w-full border-collapse">
      <thead>
        <tr className="border-b border-rule-strong text-left text-ink-soft">
          <th className="py-1 pr-2 font-normal">{t`visit`}</th>
          <th className="px-2 py-1 font-normal">{t`predicted from earlier visits`}</th>
          <th className="px-2 py-1 font-normal">{t`measured, on its own`}</th>
          <th className="px-2 py-1 font-normal">{t`difference`}</th>
        </tr>
      </thead>
      <tbody>
        {(valve.rests_on?.predicted ?? []).map((one) => {
          const read = found.get(one.visit)
          return (
            <tr key={one.visit} className="border-b border-rule">
              <td className="py-1 pr-2">{one.visit}</td>
              <td className="px-2 py-1">
                {length(Math.max(one.mean_mm, 0), unit)} ± {sdText(one.sd_mm, unit)}
              </td>
              <td className="px-2 py-1">
                {read
                  ? `${length(Math.max(read.mean_mm, 0), unit)} ± ${sdText(read.sd_mm, unit)}`
                  : '–'}
              </td>
              <td className="px-2 py-1">
                {one.z === null ? t`within the bound` : `${fixed(Math.abs(one.z), 1)} σ`}
                {one.z !== null && Math.abs(one.z) > 3 && (one.z < 0 ? t`, tighter` : t`, looser`)}
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
      <Trans>
        Assumed: before its first reading a clearance lies at the middle of its spec ±{' '}
        {sdText(assumed.prior_sd_mm, unit)}; the drift of a side is up to about{' '}
        {sdText(assumed.side_drift_sd_mm, unit)} per interval either way, and a drift varies by{' '}
        {sdText(assumed.drift_wander, unit)}; a screw adjusted and not re-measured is within{' '}
        {sdText(assumed.set_to_target_sd_mm, unit)} of its target; all readings of a visit share an
        offset of about {sdText(assumed.visit_shift_sd_mm, unit)}, more where the temperature is
        uncertain; one answer in {Math.round(1 / assumed.entry_error_probability)} is an entry
        error.
      </Trans>
    </p>
  )
}
