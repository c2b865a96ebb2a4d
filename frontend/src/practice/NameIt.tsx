import { t } from '@lingui/core/macro'
import { useState } from 'react'
import type { PracticeRun } from '@/api/client'
import { Button } from '@/design/Button'
import type { useRun } from './queries'

const NOTHING = 'nothing'

/** What the learner takes it to be; it may be said again until the end. */
export function NameIt({ run, doing }: { run: PracticeRun; doing: ReturnType<typeof useRun> }) {
  const [cause, setCause] = useState(run.named === '' ? NOTHING : (run.named ?? ''))
  const said =
    run.named === null
      ? undefined
      : (run.causes.find((one) => one.id === run.named)?.label ?? t`nothing is wrong`)
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        doing.step.mutate({ kind: 'name', cause: cause === NOTHING ? '' : cause })
      }}
    >
      <div className="flex flex-col">
        <label htmlFor="it-is" className="text-sm text-ink-soft">
          {t`cause`}
        </label>
        <select
          id="it-is"
          value={cause}
          disabled={run.review !== null}
          onChange={(event) => setCause(event.target.value)}
          className="min-h-11 rounded-card border border-rule-strong bg-paper px-2"
        >
          <option value="">{t`choose`}</option>
          <option value={NOTHING}>{t`nothing is wrong with it`}</option>
          {run.causes.map((one) => (
            <option key={one.id} value={one.id}>
              {one.label}
            </option>
          ))}
        </select>
      </div>
      <div className="flex items-center gap-3">
        <Button
          type="submit"
          look="main"
          disabled={cause === '' || run.review !== null || doing.step.isPending}
        >
          {t`Submit`}
        </Button>
        <span role="status">{said && t`Your answer: ${said}.`}</span>
      </div>
    </form>
  )
}
