import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { NEW_ENGINE_ADDRESS, PRACTICE_ADDRESS } from '@/api/addresses'
import { api, unwrap } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { sessionQuery } from '@/people/session'

/** What an empty workshop offers: four ways to begin, each a line and a button. */
export function FourWays() {
  return (
    <section
      aria-label={t`Four ways to begin`}
      className="max-w-3xl rounded-card border border-rule bg-sheet"
    >
      <h2 className="border-b border-rule px-4 py-2">{t`Four ways to begin`}</h2>
      <ul>
        <Way
          line={t`Look around in a made-up workshop: eight engines with years of checks. Nothing that you do there is kept, and yours is not touched.`}
        >
          <LookAround />
        </Way>
        <Way
          line={t`Add your first engine. Choose the template that is nearest to it, then enter the figures of the manual: about two minutes.`}
        >
          <Link to={NEW_ENGINE_ADDRESS} className={buttonClass('main')}>
            {t`Add engine`}
          </Link>
        </Way>
        <Way
          line={t`Import an old notebook: a spreadsheet of clearances. Describe its engine first; its sheet is read next.`}
        >
          <Link to={`${NEW_ENGINE_ADDRESS}?then=import`} className={buttonClass()}>
            {t`Import a notebook`}
          </Link>
        </Way>
        <Way
          line={t`Practise on a simulated engine: measure, find the fault, adjust, and see how near you were.`}
        >
          <Link to={PRACTICE_ADDRESS} className={buttonClass()}>
            {t`Practise`}
          </Link>
        </Way>
      </ul>
      <p className="border-t border-rule px-4 py-2 text-sm text-ink-soft">
        {t`Coming from another workshop? A record (a JSON file in the open format) with its visits, readings and cases is imported above; a whole backup on the Bench.`}
      </p>
    </section>
  )
}

function Way({ line, children }: { line: string; children: ReactNode }) {
  return (
    <li className="flex flex-wrap items-center justify-between gap-x-6 gap-y-2 border-b border-rule px-4 py-3 last:border-0">
      <p className="min-w-60 flex-1">{line}</p>
      {children}
    </li>
  )
}

/** The demonstration beside one's own workshop: started by the server, and gone to. */
function LookAround() {
  const { data: session } = useQuery(sessionQuery)
  const start = useMutation({
    mutationFn: () => unwrap(api.POST('/api/demonstration')),
    onSuccess: ({ address }) => window.location.assign(address),
  })
  if (session && !session.can_look_around) {
    return (
      <p className="text-sm text-ink-soft">
        <Trans>
          On the machine that runs Pronostico: <code>pronostico demo</code>
        </Trans>
      </p>
    )
  }
  return (
    <span className="flex flex-col items-end gap-2">
      <Button onClick={() => start.mutate()} disabled={start.isPending || start.isSuccess}>
        {start.isIdle || start.isError ? t`Look around` : t`Preparing the made-up workshop…`}
      </Button>
      {start.error && <ErrorNotice error={start.error} />}
    </span>
  )
}
