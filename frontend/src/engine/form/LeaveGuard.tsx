import { t } from '@lingui/core/macro'
import { useEffect } from 'react'
import { useBlocker } from 'react-router'
import { Button } from '@/design/Button'
import { Popup } from '@/design/Popup'

/** Asks before unsaved changes are left behind. */
export function LeaveGuard({ unsaved }: { unsaved: () => boolean }) {
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      currentLocation.pathname !== nextLocation.pathname && unsaved(),
  )
  useEffect(() => {
    // Closing the page is the browser's own question to ask.
    function onBeforeUnload(event: BeforeUnloadEvent) {
      if (unsaved()) event.preventDefault()
    }
    window.addEventListener('beforeunload', onBeforeUnload)
    return () => window.removeEventListener('beforeunload', onBeforeUnload)
  }, [unsaved])
  if (blocker.state !== 'blocked') return null
  return (
    <Popup title={t`Leave without saving?`} onClose={() => blocker.reset()}>
      <p className="mb-3">{t`What you changed here is not saved.`}</p>
      <div className="flex gap-2">
        <Button look="main" onClick={() => blocker.reset()}>
          {t`Stay`}
        </Button>
        <Button onClick={() => blocker.proceed()}>{t`Leave`}</Button>
      </div>
    </Popup>
  )
}
