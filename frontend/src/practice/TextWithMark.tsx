import { t } from '@lingui/core/macro'
import type { ReactNode } from 'react'

/** Something that was met or was not: a mark and a word for who does not see it, never colour alone. */
export function TextWithMark({ met, children }: { met: boolean; children: ReactNode }) {
  return (
    <span className={met ? 'text-in' : 'font-semibold text-tight'}>
      <span aria-hidden="true">{met ? '✓ ' : '✗ '}</span>
      <span className="sr-only">{met ? t`met: ` : t`not met: `}</span>
      {children}
    </span>
  )
}
