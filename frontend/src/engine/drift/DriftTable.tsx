import { t } from '@lingui/core/macro'
import { Link } from 'react-router'
import { driftAddress } from '@/api/addresses'
import type { Analysis, ValveAnalysis } from '@/api/client'
import { sdText, lengthRange, movement, sinkOrWear, usage, type LengthUnit } from '@/design/format'
import { VerdictMark } from '@/design/shapes'
import { gapOf } from '@/head-plan/gap'
import { changed, named } from '@/design/names'

const HEADS = [
  t`valve`,
  t`current`,
  t`clearance now, 90 %`,
  t`drift per interval`,
  t`trend`,
  t`valve sink or wear to date`,
  t`tight: 10 % / 50 % at`,
  t`loose: 10 % / 50 % at`,
  t`sudden change`,
]

/** The same figures as the sheet's, one line a valve. */
export function DriftTable({
  engineId,
  analysis,
  unit,
}: {
  engineId: string
  analysis: Analysis
  unit: LengthUnit
}) {
  return (
    <table className="cards-when-narrow w-full border-collapse text-sm">
      <caption className="sr-only">{t`Drift of every valve`}</caption>
      <thead>
        <tr className="border-b-2 border-ink text-left text-ink-soft">
          {HEADS.map((head) => (
            <th key={head} scope="col" className="px-2 py-1 font-normal">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {analysis.valves.map((valve) => (
          <tr key={valve.valve} className="border-b border-rule align-top">
            <th scope="row" className="px-2 py-1 text-left">
              <Link to={driftAddress(engineId, valve.valve)}>{valve.valve}</Link>
            </th>
            <Cells
              valve={valve}
              last={analysis.as_of_usage}
              usageUnit={analysis.usage_unit}
              unit={unit}
            />
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Cells({
  valve: { standing, now, drift, sink, crossing, break: broke },
  last,
  usageUnit,
  unit,
}: {
  valve: ValveAnalysis
  last: number | null
  usageUnit: string
  unit: LengthUnit
}) {
  const at = (value: number | null | undefined) => {
    if (value == null) return t`not within the forecast`
    return last !== null && value <= last ? t`already` : usage(value, usageUnit)
  }
  const crossed = (side: 'tight' | 'loose') => {
    const known = crossing?.[side]
    if (!known) return '–'
    const [first, even] = [at(known.q10), at(known.q50)]
    return even === t`already` ? even : `${first}, ${even}`
  }
  return (
    <>
      <td className="px-2 py-1" data-label={HEADS[1]}>
        {standing ? <VerdictMark verdict={gapOf(standing).verdict} /> : t`not measured`}
      </td>
      <td className="px-2 py-1 whitespace-nowrap" data-label={HEADS[2]}>
        {now ? lengthRange(now.q05_mm, now.q95_mm, unit) : '–'}
      </td>
      <td className="px-2 py-1 whitespace-nowrap" data-label={HEADS[3]}>
        {drift
          ? `${movement(drift.mean_mm_per_interval, unit)} ± ${sdText(drift.sd_mm_per_interval, unit)}`
          : '–'}
      </td>
      <td className="px-2 py-1" data-label={HEADS[4]}>
        {drift ? named(drift.trend) : '–'}
      </td>
      <td className="px-2 py-1 whitespace-nowrap" data-label={HEADS[5]}>
        {sink && sink.sd_mm > 0 ? sinkOrWear(sink.mean_mm, sink.sd_mm, unit) : '–'}
      </td>
      <td className="px-2 py-1" data-label={HEADS[6]}>
        {crossed('tight')}
      </td>
      <td className="px-2 py-1" data-label={HEADS[7]}>
        {crossed('loose')}
      </td>
      <td className="px-2 py-1" data-label={HEADS[8]}>
        {broke ? `${broke.visit}, ${changed(broke.direction)}` : '–'}
      </td>
    </>
  )
}
