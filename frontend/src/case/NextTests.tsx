import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState, type ReactNode } from 'react'
import type { NextTest } from '@/api/client'
import { Button } from '@/design/Button'
import { percent } from '@/design/format'
import { Sheet } from '@/design/Sheet'
import { named } from '@/design/names'

const FIRST = 3

/** How much a test is expected to settle, in words; the exact information is in the exports. */
function settles(gainBits: number): string {
  if (gainBits >= 0.5) return t`settles much`
  return gainBits >= 0.15 ? t`settles something` : t`settles little`
}

/** How often a test says what is there, and says it wrongly. */
function Said({ said }: { said: NextTest['said'] }) {
  return (
    <p className="text-sm">
      <Trans>
        Found where it is there, and where it is not:{' '}
        {said
          .map((one) => `${one.label} ${percent(one.if_there)}, ${percent(one.if_not)}`)
          .join('; ')}{' '}
        (on simulated sound).
      </Trans>
    </p>
  )
}

/** What to do next: most information per minute first, with what each outcome would lead to. */
export function NextTests({ tests, children }: { tests: NextTest[]; children?: ReactNode }) {
  const [all, setAll] = useState(false)
  if (tests.length === 0) {
    return (
      <Sheet title={t`Next test`}>
        <p className="px-4 py-2">{t`No further test would change the ranking much.`}</p>
        <div className="px-4 pb-2">{children}</div>
      </Sheet>
    )
  }
  return (
    <Sheet
      title={t`Next test`}
      aside={<span className="text-sm text-ink-soft">{t`most information per minute first`}</span>}
    >
      <ol>
        {tests.slice(0, all ? undefined : FIRST).map((one) => (
          <li key={`${one.test} ${one.where}`} className="border-b border-rule px-4 py-2">
            <p className="flex flex-wrap justify-between gap-x-3">
              <span className="font-semibold">
                {one.label}
                {one.where !== named('engine') && (
                  <span className="font-normal text-ink-soft">, {one.where}</span>
                )}
              </span>
              <span>
                {Math.round(one.minutes)} min, {settles(one.gain_bits)}
              </span>
            </p>
            <p className="text-sm text-ink-soft">{one.help}</p>
            {one.said.length > 0 && <Said said={one.said} />}
            <ul className="text-sm">
              {one.outcomes.map((outcome) => (
                <li key={`${outcome.finding} ${outcome.where}`}>
                  {outcome.label}
                  {outcome.where && `, ${outcome.where}`}{' '}
                  <Trans>
                    ({percent(outcome.probability)}): then {outcome.cause_label},{' '}
                    {outcome.cause_where}, {percent(outcome.probability_of_cause)}
                  </Trans>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
      <div className="px-4 pt-2">{children}</div>
      {tests.length > FIRST && (
        <div className="px-4 py-1">
          <Button look="quiet" onClick={() => setAll(!all)}>
            {all ? t`Show fewer` : t`All ${tests.length}`}
          </Button>
        </div>
      )}
    </Sheet>
  )
}
