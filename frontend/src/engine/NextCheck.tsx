import type { Analysis } from '@/api/client'
import { day, usage } from '@/design/format'
import { Sheet } from '@/design/Sheet'

/** When to look again, and why then; and what made a whole visit doubtful. */
export function NextCheck({ analysis }: { analysis: Analysis }) {
  const { next_look: look, usage_unit: unit } = analysis
  if (!look) return null
  const suspect = analysis.visits.filter((one) => one.shift?.suspect)
  return (
    <Sheet title="Next check">
      <div className="px-4 py-2">
        <p>
          <strong>{look.now ? 'Now' : `At ${usage(look.usage, unit)}`}</strong>
          {!look.now && look.day && `, about ${day(look.day)} at the use so far`}
          {look.why && `: ${look.why}`}.
        </p>
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
