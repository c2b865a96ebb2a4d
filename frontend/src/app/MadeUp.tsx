import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { sessionQuery } from '@/people/session'

/** On every page of the demonstration: that it is one, and the way back to one's own workshop. */
export function MadeUp() {
  const { data: session } = useQuery(sessionQuery)
  const madeUp = session?.made_up
  if (!madeUp) return null
  return (
    <span className="flex items-center gap-x-2 border-2 border-doubt px-2 text-sm leading-tight">
      <span title={t`Nothing that is entered here is kept`}>{t`made-up workshop`}</span>
      {madeUp.back !== null && (
        <a href={madeUp.back} className="flex min-h-11 items-center font-semibold">
          {t`Back to mine`}
        </a>
      )}
    </span>
  )
}
