import type { Analysis } from '@/api/client'
import { percent, usage } from '@/design/format'
import { Sheet } from '@/design/Sheet'

/** When to look again, and why then; and what made a whole visit doubtful. */
export function NextLook({ analysis }: { analysis: Analysis }) {
  const { next_check: check, as_of_usage: last, usage_unit: unit } = analysis
  if (!check || last === null) return null
  const suspect = analysis.visits.filter((one) => one.shift?.suspect)
  return (
    <Sheet title="Next look">
      <div className="px-4 py-2">
        <p>
          <strong>{check.usage <= last ? 'Now' : `At ${usage(check.usage, unit)}`}</strong>: the
          chance that a valve is out by more than {check.margin_mm} mm is then over{' '}
          {percent(check.risk)}; {check.limiting_valve} most likely.
        </p>
        {check.due_now.length > 0 && (
          <p>Out or not settled as they stand: {check.due_now.join(', ')}.</p>
        )}
        {!analysis.settled && (
          <p className="font-semibold text-loose">
            The calculation of the drift did not settle: its figures are approximate.
          </p>
        )}
        {suspect.map((one) => (
          <p key={one.visit} className="font-semibold text-loose">
            At visit {one.visit} everything moved at once: look at how it was checked (cold, the
            same blades, the right crank position) before the valves.
          </p>
        ))}
      </div>
    </Sheet>
  )
}
