import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { ReactNode } from 'react'

type Fault = { path: string; message: string; label?: string }

function faultsOf(error: unknown): Fault[] {
  return error instanceof Error && 'faults' in error ? (error.faults as Fault[]) : []
}

/** Something that could not be done: what, where, and what would be right. */
export function ErrorNotice({ error, retry }: { error: unknown; retry?: () => void }) {
  const faults = faultsOf(error)
  const message = error instanceof Error ? error.message : String(error)
  // Nothing went wrong: the change waits on this device, and the top line counts it for as long as it does.
  if (error instanceof Error && error.name === 'Kept') return null
  return (
    <div role="alert" className="rounded-card border-2 border-tight bg-sheet p-4">
      <p className="font-semibold text-tight">{message}</p>
      {faults.length > 0 && (
        <ul className="mt-2 list-disc pl-5 text-sm">
          {faults.map((fault) => (
            <li key={`${fault.path} ${fault.message}`}>
              {fault.label ? `${fault.label}: ` : ''}
              {fault.message}
            </li>
          ))}
        </ul>
      )}
      {retry && (
        <button type="button" className="mt-2 text-accent underline" onClick={retry}>
          {t`Try again`}
        </button>
      )}
    </div>
  )
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-4 text-ink-soft">
      <Trans>Loading {what}…</Trans>
    </p>
  )
}

export function Empty({ children }: { children: ReactNode }) {
  return (
    <div className="rounded-card border border-dashed border-rule-strong p-6 text-ink-soft">
      {children}
    </div>
  )
}
