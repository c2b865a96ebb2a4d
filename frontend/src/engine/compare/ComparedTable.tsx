import { t } from '@lingui/core/macro'
import type { ComparedValve, Comparison } from '@/api/client'
import { movement, sdText, type LengthUnit } from '@/design/format'
import { MarkedReading } from '@/head-plan/MarkedReading'
import { changed, named } from '@/design/names'

/** Both states of every valve, and whether they differ by more than the error of the readings. */
export function ComparedTable({
  comparison,
  unit,
  selected,
  onSelect,
}: {
  comparison: Comparison
  unit: LengthUnit
  selected: string | undefined
  onSelect: (valve: string) => void
}) {
  return (
    <div className="overflow-x-auto">
      <table className="cards-when-narrow w-full border-collapse text-sm">
        <thead>
          <tr className="border-b border-rule text-left text-ink-soft">
            <th className="py-1 pr-2 pl-4 font-normal">{t`valve`}</th>
            <th className="px-2 py-1 font-normal">{t`first`}</th>
            <th className="px-2 py-1 font-normal">{t`second`}</th>
            <th className="px-2 py-1 font-normal">{t`difference`}</th>
            <th className="px-2 py-1 font-normal">{t`drift per interval, first`}</th>
            <th className="px-2 py-1 pr-4 font-normal">{t`drift per interval, second`}</th>
          </tr>
        </thead>
        <tbody>
          {comparison.valves.map((one) => (
            <tr
              key={one.valve}
              className={`border-b border-rule last:border-0 ${one.valve === selected ? 'bg-accent-pale' : ''}`}
            >
              <td className="py-1 pr-2 pl-4" data-label={t`valve`}>
                <button
                  type="button"
                  className="font-semibold underline underline-offset-2"
                  onClick={() => onSelect(one.valve)}
                >
                  {one.valve}
                </button>
              </td>
              <td className="px-2 py-1" data-label={t`first`}>
                <MarkedReading estimate={one.first.estimate} unit={unit} />
              </td>
              <td className="px-2 py-1" data-label={t`second`}>
                <MarkedReading estimate={one.second.estimate} unit={unit} />
              </td>
              <td className="px-2 py-1" data-label={t`difference`}>
                <Difference compared={one} unit={unit} />
              </td>
              <td className="px-2 py-1" data-label={t`drift, first`}>
                <Drift drift={one.first.drift} unit={unit} />
              </td>
              <td className="px-2 py-1 pr-4" data-label={t`drift, second`}>
                <Drift drift={one.second.drift} unit={unit} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Difference({ compared, unit }: { compared: ComparedValve; unit: LengthUnit }) {
  const { difference_mm, sd_mm, change, first, second } = compared
  if (difference_mm === null || sd_mm === null || change === null) {
    const unread = first.estimate === null || second.estimate === null
    return (
      <span className="text-ink-soft">{unread ? '–' : t`known only as a bound: no figure`}</span>
    )
  }
  return (
    <span className={change === 'none shown' ? 'text-ink-soft' : 'font-semibold'}>
      {movement(difference_mm, unit)} ± {sdText(sd_mm, unit)},{' '}
      {change === 'none shown' ? t`no change shown` : changed(change)}
    </span>
  )
}

function Drift({ drift, unit }: { drift: ComparedValve['first']['drift']; unit: LengthUnit }) {
  if (!drift) return <span className="text-ink-soft">{t`not known yet`}</span>
  return (
    <span>
      {movement(drift.drift_mm.mean_mm, unit)} ± {sdText(drift.drift_mm.sd_mm, unit)},{' '}
      {named(drift.trend)}
    </span>
  )
}
