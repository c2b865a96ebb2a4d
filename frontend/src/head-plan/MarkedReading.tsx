import { t } from '@lingui/core/macro'
import type { Estimate } from '@/api/client'
import type { LengthUnit } from '@/design/format'
import { VerdictMark } from '@/design/shapes'
import { gapOf, gapText } from './gap'

/** A reading with the mark of its verdict; said so where there is none. */
export function MarkedReading({ estimate, unit }: { estimate: Estimate | null; unit: LengthUnit }) {
  if (!estimate) return <span className="text-ink-soft">{t`not measured`}</span>
  const gap = gapOf(estimate)
  return (
    <span className="inline-flex flex-wrap items-center gap-x-2">
      <VerdictMark verdict={gap.verdict} />
      {gapText(gap, unit)}
    </span>
  )
}
