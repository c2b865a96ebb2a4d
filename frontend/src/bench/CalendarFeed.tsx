import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
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
  const reachable = feed.data?.links ?? []
  const links = reachable.length > 0 ? reachable : [window.location.origin + (path ?? '')]
  const error = feed.error ?? change.error
  return (
    <Sheet title={t`Calendar of next checks`}>
      <div className="flex flex-col gap-3 px-4 py-3">
        <p>
          {t`The next check of every engine, as all-day entries, dated by its own rate of use, with a reminder a week before; and what is promised, with a reminder the day before. What is overdue appears today.`}
        </p>
        <div className="flex flex-wrap gap-2">
          <a href="/api/next-checks.ics" download className={buttonClass()}>
            {t`Save as file`}
          </a>
          <Button onClick={() => change.mutate(true)} disabled={change.isPending}>
            {path === null ? t`Create a calendar link` : t`Replace the link`}
          </Button>
          {path !== null && (
            <Button look="quiet" onClick={() => change.mutate(false)} disabled={change.isPending}>
              {t`Remove the link`}
            </Button>
          )}
        </div>
        {path !== null && (
          <>
            {links.map((link, index) => (
              <input
                key={link}
                readOnly
                aria-label={index === 0 ? t`Calendar link` : t`Calendar link, address ${index + 1}`}
                value={link}
                onFocus={(event) => event.target.select()}
                className="min-h-11 w-full rounded-card border border-rule-strong bg-paper px-3 font-mono text-sm"
              />
            ))}
            <p className="text-sm text-ink-soft">
              <Trans>
                {reachable.length > 0
                  ? t`For a calendar program on the workshop’s network; its device has to trust the certificate of this machine. `
                  : t`For a calendar program on this machine. `}
                Anyone with the link can read it, without signing in; replacing it makes the old
                link invalid.
              </Trans>
            </p>
          </>
        )}
        {error && <ErrorNotice error={error} />}
      </div>
    </Sheet>
  )
}
