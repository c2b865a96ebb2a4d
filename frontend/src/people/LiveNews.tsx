import { t } from '@lingui/core/macro'
import { matchPath, useLocation } from 'react-router'
import { useLive } from './useLive'

/** Says for some seconds what somebody else has just changed at the engine on the page. */
export function LiveNews() {
  const { pathname } = useLocation()
  const engineId = matchPath('/engines/:engineId/*', pathname)?.params.engineId
  const news = useLive(engineId)
  return (
    <div aria-live="polite" className="no-print pointer-events-none fixed bottom-3 left-3 z-20">
      {news && (
        <p className="rounded-card border border-rule-strong bg-sheet px-3 py-1.5 shadow-md">
          <b>{news.person ?? t`Somebody else`}</b> ({news.device}): {news.change}
        </p>
      )}
    </div>
  )
}
