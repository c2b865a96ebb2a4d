import { t } from '@lingui/core/macro'
import { useRegisterSW } from 'virtual:pwa-register/react'
import { Button } from '@/design/Button'

/** Registers the service worker, and says when a new version of the pages is ready. */
export function NewVersion() {
  const {
    needRefresh: [ready],
    updateServiceWorker,
  } = useRegisterSW()
  if (!ready) return null
  return (
    <p
      role="status"
      className="no-print flex flex-wrap items-center gap-3 border-b border-rule bg-sheet px-3 py-1 md:px-5"
    >
      {t`A new version of these pages is ready.`}
      <Button onClick={() => void updateServiceWorker()}>{t`Reload`}</Button>
    </p>
  )
}
