import { t } from '@lingui/core/macro'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import type { ReactNode } from 'react'
import { Button } from './Button'

/**
 * Something over the page, until Esc or its button closes it. Only there while it is open: a closed one lets
 * go of what another keeps out of reach.
 */
export function Popup({
  title,
  wide = false,
  onClose,
  children,
}: {
  title: string
  wide?: boolean
  onClose: () => void
  children: ReactNode
}) {
  return (
    <Dialog open onClose={onClose} className="relative z-20">
      <div className="fixed inset-0 bg-ink/40" aria-hidden="true" />
      <div className="fixed inset-0 flex items-start justify-center overflow-y-auto p-3 sm:p-6">
        <DialogPanel
          className={`w-full rounded-card border-2 border-ink bg-sheet p-4 ${wide ? 'max-w-3xl' : 'max-w-2xl'}`}
        >
          <div className="mb-2 flex items-center justify-between gap-3">
            <DialogTitle className="text-xl font-bold">{title}</DialogTitle>
            <Button onClick={onClose}>{t`Close ( Esc )`}</Button>
          </div>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  )
}
