import { t } from '@lingui/core/macro'
import type { Analysis, ValveAnalysis } from '@/api/client'
import { chance } from '@/design/format'

/** What the clearances may be doing beside moving steadily, each with its probability; of one valve, or of all. */
export function Regimes({ analysis, valve }: { analysis: Analysis; valve?: ValveAnalysis }) {
  const known = (analysis.regimes ?? []).filter(
    (one) =>
      valve === undefined ||
      ((one.valve === null || one.valve === valve.valve) &&
        (one.side === null || one.side === valve.side)),
  )
  // A steady drift is what everybody takes it for: only what differs is worth a line.
  if (known.every((one) => one.kind === 'steady')) return null
  return (
    <p className="mb-2 text-sm">
      {valve ? t`It may move in one of these ways: ` : t`How the clearances may move: `}
      {known.map((one, index) => (
        <span key={one.label}>
          {index > 0 && '; '}
          <strong>{one.label}</strong>, {chance(one.probability)}
        </span>
      ))}
      {t`. The forecasts allow for each.`}
    </p>
  )
}
