import { t } from '@lingui/core/macro'
import { useState } from 'react'
import type { Decided, Decision, AssessedValve } from '@/api/client'
import { BECAUSE_WORDS, DECISION_WORDS } from './assessment'

const DECISIONS: Decision[] = ['leave', 'set', 'look-again']

/** What the technician decides of a valve, and why; the advised one is marked, never taken by itself. */
export function DecisionCell({
  assessed,
  onDecide,
}: {
  assessed: AssessedValve
  /** Settles once it is stored, or refused. */
  onDecide: (decided: Decided | null) => Promise<unknown>
}) {
  const { valve, decided, advised, because } = assessed
  const [reason, setReason] = useState<string | null>(null)
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <div role="group" aria-label={t`Decision for ${valve}`} className="flex max-md:w-full">
        {DECISIONS.map((one) => {
          const chosen = decided?.decision === one
          return (
            <button
              key={one}
              type="button"
              aria-pressed={chosen}
              title={one === advised ? t`recommended:  ${BECAUSE_WORDS[because]}` : undefined}
              onClick={() =>
                onDecide(chosen ? null : { decision: one, reason: decided?.reason ?? '' }).catch(
                  () => undefined,
                )
              }
              className={`min-h-11 border px-2 whitespace-nowrap max-md:min-h-14 max-md:flex-1 ${
                chosen
                  ? 'border-ink bg-ink font-semibold text-paper'
                  : one === advised
                    ? 'border-accent bg-accent-pale text-accent'
                    : 'border-rule-strong bg-sheet'
              }`}
            >
              {DECISION_WORDS[one]}
            </button>
          )
        })}
      </div>
      {decided ? (
        <input
          aria-label={t`Reason for ${valve}`}
          placeholder={t`reason`}
          maxLength={300}
          value={reason ?? decided.reason ?? ''}
          onChange={(event) => setReason(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          onBlur={() => {
            if (reason === null || reason === (decided.reason ?? '')) {
              setReason(null)
              return
            }
            // A reason that was refused stays in its field.
            onDecide({ decision: decided.decision, reason }).then(
              () => setReason(null),
              () => undefined,
            )
          }}
          className="min-h-11 min-w-28 flex-1 rounded-card border border-rule bg-paper px-2 placeholder:text-ink-soft"
        />
      ) : (
        <span className="text-sm text-ink-soft">
          {DECISION_WORDS[advised]}: {BECAUSE_WORDS[because]}
        </span>
      )}
    </div>
  )
}
