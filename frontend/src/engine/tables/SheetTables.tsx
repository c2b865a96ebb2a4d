import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { useState } from 'react'
import type { SheetSeen } from '@/api/client'
import { Button } from '@/design/Button'
import { length, usage, type LengthUnit, fixed } from '@/design/format'
import type { Correction } from './queries'
import { usePreferences } from '@/design/preferences'
import { named } from '@/design/names'

const HEAD = 'py-1 pr-3 text-left font-normal text-ink-soft'

/** The rows that cannot be taken, each with its place, its column and what would be right; put right here. */
export function SheetFaults({
  seen,
  corrections,
  onCorrect,
}: {
  seen: SheetSeen
  corrections: Correction[]
  onCorrect: (corrections: Correction[]) => void
}) {
  if (seen.fault_count === 0 && corrections.length === 0) return null
  function correct(line: number, index: number, text: string) {
    const others = corrections.filter((one) => one.line !== line || one.index !== index)
    onCorrect([...others, { line, index, text }])
  }
  return (
    <section aria-label={t`Rows with errors`} className="rounded-card border-2 border-tight">
      <h3 className="px-3 pt-2 font-semibold text-tight">
        <Trans>
          {seen.fault_count} of {seen.rows} rows have errors
        </Trans>
        {seen.faults.length < seen.fault_count && t`; the first ${seen.faults.length}`}
      </h3>
      <div tabIndex={0} className="max-h-72 overflow-y-auto px-3 pb-2">
        <table className="w-full border-collapse text-sm">
          <tbody>
            {seen.faults.map((one) => (
              <tr
                key={`${one.line} ${one.column} ${one.text}`}
                className="border-t border-rule align-top"
              >
                <th scope="row" className="py-1 pr-3 text-left font-normal whitespace-nowrap">
                  {one.place}
                </th>
                <td className="py-1 pr-3 font-semibold">{one.column}</td>
                <td className="py-1 pr-3">{one.message}</td>
                <td className="py-1">
                  {one.index !== null && corrections.length < MOST_CORRECTIONS && (
                    <Cell
                      label={`${one.place}, ${one.column}`}
                      text={one.text}
                      onCorrect={(text) => correct(one.line, one.index ?? 0, text)}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {corrections.length > 0 && (
        <p className="flex flex-wrap items-center gap-3 border-t border-rule px-3 py-1 text-sm">
          <Trans>
            <Plural
              value={corrections.length}
              one="# cell corrected here"
              other="# cells corrected here"
            />
            ; the file stays as it is.
          </Trans>
          <Button look="quiet" onClick={() => onCorrect([])}>
            {t`Undo the corrections`}
          </Button>
        </p>
      )}
    </section>
  )
}

// So many go with one request.
const MOST_CORRECTIONS = 200

/** What stands in a cell, to be typed otherwise; Enter takes it. */
function Cell({
  label,
  text,
  onCorrect,
}: {
  label: string
  text: string
  onCorrect: (text: string) => void
}) {
  const [typed, setTyped] = useState(text)
  return (
    <form
      className="flex gap-1"
      onSubmit={(event) => {
        event.preventDefault()
        if (typed !== text) onCorrect(typed)
      }}
    >
      <input
        aria-label={label}
        value={typed}
        maxLength={200}
        onChange={(event) => setTyped(event.target.value)}
        className="min-h-11 w-28 rounded-card border border-rule-strong bg-sheet px-2"
      />
      <Button type="submit" disabled={typed === text}>
        {t`Correct`}
      </Button>
    </form>
  )
}

/** The first rows as they were understood. */
export function SheetRows({ seen, usageUnit }: { seen: SheetSeen; usageUnit: string }) {
  const { unit } = usePreferences()
  if (seen.sample.length === 0) return null
  return (
    <table className="w-full border-collapse text-sm">
      <caption className="text-left font-semibold">{t`First rows as interpreted`}</caption>
      <thead>
        <tr className="border-b border-ink">
          {[t`row`, t`valve`, t`day`, t`usage`, t`as found`, t`as left`, t`set or fitted`].map(
            (name) => (
              <th key={name} scope="col" className={HEAD}>
                {name}
              </th>
            ),
          )}
        </tr>
      </thead>
      <tbody>
        {seen.sample.map((row) => (
          <tr key={`${row.line} ${row.valve}`} className="border-b border-rule">
            <td className="py-1 pr-3">{row.place}</td>
            <td className="py-1 pr-3 font-semibold">{row.valve}</td>
            <td className="py-1 pr-3">{row.day}</td>
            <td className="py-1 pr-3">{usage(row.usage, usageUnit)}</td>
            <td className="py-1 pr-3">{answersText(row.found, unit)}</td>
            <td className="py-1 pr-3">{answersText(row.left, unit)}</td>
            <td className="py-1">
              {row.target_mm !== null && t`to ${length(row.target_mm, unit)} `}
              {row.shim_mm !== null && t`shim ${fixed(row.shim_mm, 3)} mm`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function answersText(answers: SheetSeen['sample'][number]['found'], unit: LengthUnit): string {
  return (
    answers
      .map((one) => {
        const blades = one.blades_mm.map((blade) => length(blade, unit)).join(' + ')
        return `${blades} ${named(one.felt)}`
      })
      .join('; ') || '–'
  )
}

/** What would become of the visits. */
export function SheetVisits({ seen, usageUnit }: { seen: SheetSeen; usageUnit: string }) {
  if (seen.visits.length === 0) return null
  const others = [
    [seen.readings_same, t`readings are here already`],
    [seen.rows_empty, t`rows are empty`],
    [seen.rows_of_other_engines, t`rows belong to other engines`],
  ].filter(([count]) => count !== 0)
  return (
    <section aria-label={t`Visits to be imported`}>
      <h3 className="font-semibold">
        <Trans>{seen.visit_count} visits</Trans>
        {seen.visits.length < seen.visit_count && t`, the first ${seen.visits.length}`}
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
                <td className="py-1 pr-3">{one.state === 'same' ? t`unchanged` : one.state}</td>
                <td className="py-1">
                  <Trans>{one.readings} new readings</Trans>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {others.length > 0 && (
        <p className="text-sm text-ink-soft">
          <Trans>Also {others.map(([count, what]) => `${count} ${what}`).join(', ')}.</Trans>
        </p>
      )}
    </section>
  )
}
