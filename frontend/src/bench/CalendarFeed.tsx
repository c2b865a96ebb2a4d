import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, unwrap } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'

const feedQuery = queryOptions({
  queryKey: ['calendar-feed'],
  queryFn: () => unwrap(api.GET('/api/calendar-feed')),
})

/** Next checks for a calendar: a file, or an address that a calendar program asks again and again. */
export function CalendarFeed() {
  const feed = useQuery(feedQuery)
  const queryClient = useQueryClient()
  const change = useMutation({
    mutationFn: (on: boolean) =>
      unwrap(on ? api.PUT('/api/calendar-feed') : api.DELETE('/api/calendar-feed')),
    onSuccess: (kept) => queryClient.setQueryData(feedQuery.queryKey, kept),
  })
  const path = feed.data?.path ?? null
  const error = feed.error ?? change.error
  return (
    <Sheet title="Calendar of next checks">
      <div className="flex flex-col gap-3 px-4 py-3">
        <p>
          The next check of every engine, as all-day entries, dated by its own rate of use; overdue
          checks appear today.
        </p>
        <div className="flex flex-wrap gap-2">
          <a href="/api/next-checks.ics" download className={buttonClass()}>
            Save as file
          </a>
          <Button onClick={() => change.mutate(true)} disabled={change.isPending}>
            {path === null ? 'Create a calendar link' : 'Replace the link'}
          </Button>
          {path !== null && (
            <Button look="quiet" onClick={() => change.mutate(false)} disabled={change.isPending}>
              Remove the link
            </Button>
          )}
        </div>
        {path !== null && (
          <>
            <input
              readOnly
              aria-label="Calendar link"
              value={window.location.origin + path}
              onFocus={(event) => event.target.select()}
              className="min-h-11 w-full rounded-card border border-rule-strong bg-paper px-3 font-mono text-sm"
            />
            <p className="text-sm text-ink-soft">
              For a calendar program on this machine. Anyone with the link can read it; replacing it
              makes the old link invalid.
            </p>
          </>
        )}
        {error && <ErrorNotice error={error} />}
      </div>
    </Sheet>
  )
}
