import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import type { ShimSeen } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { typedShimMm } from '@/design/typedLength'
import { useSeeShim } from '@/visit/shared/adjustQueries'
import { fixed } from '@/design/format'

const FIELDS = [
  { field: 'printed_mm', label: t`print` },
  { field: 'measured_mm', label: t`measures` },
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
  // What is typed and not stored; a field without a draft shows what is stored.
  const [drafts, setDrafts] = useState<{ printed_mm?: string; measured_mm?: string }>({})
  // What the server will know once everything that was sent has arrived.
  const [sent, setSent] = useState<ShimSeen | null>(null)
  const was = sent ?? seen
  const shown = (field: keyof ShimSeen) =>
    drafts[field] ?? (was[field] == null ? '' : String(was[field]))
  const isWrong = (field: keyof ShimSeen) =>
    shown(field).trim() !== '' && typedShimMm(shown(field)) === undefined
  const { printed_mm: printed, measured_mm: measured } = seen
  const worn = printed != null && measured != null ? printed - measured : 0

  function keep(field: keyof ShimSeen) {
    if (drafts[field] === undefined || isWrong(field)) return
    const now = { ...was, [field]: typedShimMm(shown(field)) ?? null }
    setDrafts({ ...drafts, [field]: undefined })
    if (now[field] === (was[field] ?? null)) return
    setSent(now)
    see.mutate({ valve, seen: now, was }, { onSettled: () => setSent(null) })
  }

  return (
    <div className="flex flex-wrap items-center gap-x-3 text-sm">
      <span className="text-ink-soft">{t`shim fitted now, mm:`}</span>
      {FIELDS.map(({ field, label }) => (
        <label key={field} className="flex items-center gap-1">
          {label}
          <input
            aria-label={t`Shim fitted in ${valve}, ${label}`}
            inputMode="decimal"
            value={shown(field)}
            aria-invalid={isWrong(field)}
            onChange={(event) => setDrafts({ ...drafts, [field]: event.target.value })}
            onBlur={() => keep(field)}
            onKeyDown={(event) => event.key === 'Enter' && keep(field)}
            className="min-h-10 w-20 rounded-card border border-rule bg-paper px-2"
          />
        </label>
      ))}
      {worn > 0.0149 && (
        <strong className="text-loose">
          <Trans>worn by {fixed(worn, 3)} mm: the measured size counts</Trans>
        </strong>
      )}
      {see.error && <ErrorNotice error={see.error} />}
    </div>
  )
}
