import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { Analysis } from '@/api/client'
import { day, usage } from '@/design/format'
import { Sheet } from '@/design/Sheet'

/** When to recheck, and why then; and what made a whole visit doubtful. */
export function NextCheck({ analysis }: { analysis: Analysis }) {
  const { check_due: look, usage_unit: unit } = analysis
  if (!look) return null
  const suspect = analysis.visits.filter((one) => one.shift?.suspect)
  return (
    <Sheet title={t`Next check`}>
      <div className="px-4 py-2">
        <p>
          <strong>{look.now ? t`Now` : t`At ${usage(look.usage, unit)}`}</strong>
          {!look.now && look.day && t`, about ${day(look.day)} at the use so far`}
          {look.why && `: ${look.why}`}.
        </p>
        {!analysis.settled && (
          <p className="font-semibold text-loose">
            {t`The drift calculation did not converge: its figures are approximate.`}
          </p>
        )}
        {suspect.map((one) => (
          <p key={one.visit} className="font-semibold text-loose">
            <Trans>
              At visit {one.visit} all readings moved together: before suspecting the valves, check
              how they were measured (cold engine, the same blades, the right crank position).
            </Trans>
          </p>
        ))}
      </div>
    </Sheet>
  )
}
