import type { SheetSeen } from '@/api/client'
import { length, usage } from '@/design/format'
import { usePreferences } from '@/design/preferences'

const HEAD = 'py-1 pr-3 text-left font-normal text-ink-soft'

/** The rows that cannot be taken, each with its line, its column and what would be right. */
export function SheetFaults({ seen }: { seen: SheetSeen }) {
  if (seen.fault_count === 0) return null
  return (
    <section aria-label="Rows with errors" className="rounded-card border-2 border-tight">
      <h3 className="px-3 pt-2 font-semibold text-tight">
        {seen.fault_count} of {seen.rows} rows have errors
        {seen.faults.length < seen.fault_count && `; the first ${seen.faults.length}`}
      </h3>
      <div tabIndex={0} className="max-h-56 overflow-y-auto px-3 pb-2">
        <table className="w-full border-collapse text-sm">
          <tbody>
            {seen.faults.map((one) => (
              <tr key={`${one.line} ${one.column}`} className="border-t border-rule align-top">
                <th scope="row" className="py-1 pr-3 text-left font-normal whitespace-nowrap">
                  line {one.line}
                </th>
                <td className="py-1 pr-3 font-semibold">{one.column}</td>
                <td className="py-1">{one.message}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}

/** The first rows as they were understood. */
export function SheetRows({ seen, usageUnit }: { seen: SheetSeen; usageUnit: string }) {
  const { unit } = usePreferences()
  if (seen.sample.length === 0) return null
  return (
    <table className="w-full border-collapse text-sm">
      <caption className="text-left font-semibold">First rows as interpreted</caption>
      <thead>
        <tr className="border-b border-ink">
          {['line', 'valve', 'day', 'usage', 'phase', 'answers'].map((name) => (
            <th key={name} scope="col" className={HEAD}>
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {seen.sample.map((row) => (
          <tr key={row.line} className="border-b border-rule">
            <td className="py-1 pr-3">{row.line}</td>
            <td className="py-1 pr-3 font-semibold">{row.valve}</td>
            <td className="py-1 pr-3">{row.day}</td>
            <td className="py-1 pr-3">{usage(row.usage, usageUnit)}</td>
            <td className="py-1 pr-3">as {row.phase}</td>
            <td className="py-1">
              {row.answers
                .map((one) => {
                  const blades = one.blades_mm.map((blade) => length(blade, unit)).join(' + ')
                  return `${blades} ${one.felt}`
                })
                .join('; ')}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** What would become of the visits. */
export function SheetVisits({ seen, usageUnit }: { seen: SheetSeen; usageUnit: string }) {
  if (seen.visits.length === 0) return null
  const others = [
    [seen.readings_same, 'readings are here already'],
    [seen.rows_empty, 'rows are empty'],
    [seen.rows_of_other_engines, 'rows belong to other engines'],
  ].filter(([count]) => count !== 0)
  return (
    <section aria-label="Visits to be imported">
      <h3 className="font-semibold">
        {seen.visit_count} visits
        {seen.visits.length < seen.visit_count && `, the first ${seen.visits.length}`}
      </h3>
      <div tabIndex={0} className="max-h-56 overflow-y-auto">
        <table className="w-full border-collapse text-sm">
          <tbody>
            {seen.visits.map((one) => (
              <tr key={one.id} className="border-t border-rule">
                <th scope="row" className="py-1 pr-3 text-left">
                  {one.id}
                </th>
                <td className="py-1 pr-3">{one.date}</td>
                <td className="py-1 pr-3">{usage(one.usage, usageUnit)}</td>
                <td className="py-1 pr-3">{one.state === 'same' ? 'unchanged' : one.state}</td>
                <td className="py-1">{one.readings} new readings</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {others.length > 0 && (
        <p className="text-sm text-ink-soft">
          Also {others.map(([count, what]) => `${count} ${what}`).join(', ')}.
        </p>
      )}
    </section>
  )
}
