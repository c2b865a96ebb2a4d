import { t } from '@lingui/core/macro'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useSyncExternalStore } from 'react'
import { currentReach, subscribeToReach } from '@/api/reach'
import { moment } from '@/design/format'
import { sessionQuery } from '@/people/session'

const ASK_AGAIN_MS = 4_000

/** Says that the server does not answer, and from when what is shown is; it asks again until it does. */
export function AwayNotice() {
  const reach = useSyncExternalStore(subscribeToReach, currentReach)
  const queryClient = useQueryClient()
  const wasAway = useRef(false)
  useQuery({ ...sessionQuery, refetchInterval: reach.away ? ASK_AGAIN_MS : false })
  useEffect(() => {
    if (wasAway.current && !reach.away) void queryClient.invalidateQueries()
    wasAway.current = reach.away
  }, [reach.away, queryClient])
  if (!reach.away) return null
  return (
    <p role="status" className="no-print border-b-2 border-loose bg-sheet px-3 py-1.5 md:px-5">
      <b>{t`The server does not answer.`}</b>{' '}
      {reach.seenAt &&
        t`Shown is what this device last saw, ${moment(reach.seenAt.toISOString())}. `}
      {t`What you enter at a visit is kept here and sent later.`}
    </p>
  )
}
