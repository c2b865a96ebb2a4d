import { useState } from 'react'
import type { ShimSeen } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { typedFigure } from '@/design/typedFigure'
import { useSeeShim } from './settingQueries'

const FIELDS = [
  { field: 'printed_mm', label: 'print' },
  { field: 'measured_mm', label: 'measures' },
] as const

/** The shim that was in a valve: what is printed on it, and what it measures, for shims wear. */
export function ShimFound({
  engineId,
  visitId,
  valve,
  seen,
}: {
  engineId: string
  visitId: string
  valve: string
  seen: ShimSeen
}) {
  const see = useSeeShim(engineId, visitId)
  const [typed, setTyped] = useState({
    printed_mm: seen.printed_mm == null ? '' : String(seen.printed_mm),
    measured_mm: seen.measured_mm == null ? '' : String(seen.measured_mm),
  })
  const { printed_mm: printed, measured_mm: measured } = seen
  const worn = printed != null && measured != null ? printed - measured : 0

  function keep() {
    const [print, measure] = FIELDS.map(({ field }) => typedFigure(typed[field]))
    const isWrong = FIELDS.some(
      ({ field }) => typed[field].trim() !== '' && typedFigure(typed[field]) === null,
    )
    const now = { printed_mm: print ?? null, measured_mm: measure ?? null }
    const same = now.printed_mm === (printed ?? null) && now.measured_mm === (measured ?? null)
    if (!isWrong && !same) see.mutate({ valve, seen: now, was: seen })
  }

  return (
    <div className="flex flex-wrap items-center gap-x-3 text-sm">
      <span className="text-ink-soft">shim found, mm:</span>
      {FIELDS.map(({ field, label }) => (
        <label key={field} className="flex items-center gap-1">
          {label}
          <input
            aria-label={`Shim found in ${valve}, ${label}`}
            inputMode="decimal"
            value={typed[field]}
            aria-invalid={typed[field].trim() !== '' && typedFigure(typed[field]) === null}
            onChange={(event) => setTyped({ ...typed, [field]: event.target.value })}
            onBlur={keep}
            onKeyDown={(event) => event.key === 'Enter' && keep()}
            className="min-h-10 w-20 rounded-card border border-rule bg-paper px-2"
          />
        </label>
      ))}
      {worn > 0.0149 && (
        <strong className="text-loose">
          worn by {worn.toFixed(3)} mm: what it measures counts
        </strong>
      )}
      {see.error && <ErrorNotice error={see.error} />}
    </div>
  )
}
