import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import type { Outcome, Verification, Verified } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { useVerify } from '@/shared/verifyQueries'
import { named } from '@/design/names'

const OUTCOMES: Outcome[] = ['gone', 'better', 'same', 'worse']
type Complaint = Verification['complaints'][number]

/** Complaint by complaint what became of it; where it is not gone, what to look at next. */
export function ComplaintOutcomes({
  engineId,
  visitId,
  complaints,
}: {
  engineId: string
  visitId: string
  complaints: Complaint[]
}) {
  const prove = useVerify(engineId, visitId)
  if (complaints.length === 0) {
    return <p className="p-4 text-ink-soft">{t`No complaint was entered.`}</p>
  }
  return (
    <>
      {prove.error && <ErrorNotice error={prove.error} />}
      <ul>
        {complaints.map((one) => (
          <OneComplaint
            key={one.finding}
            complaint={one}
            onProved={(verified) =>
              prove.mutate({ id: one.finding, verified, was: one.verified ?? null })
            }
          />
        ))}
      </ul>
    </>
  )
}

function OneComplaint({
  complaint,
  onProved,
}: {
  complaint: Complaint
  onProved: (verified: Verified | null) => void
}) {
  const { verified } = complaint
  const [note, setNote] = useState(verified?.note ?? '')
  return (
    <li className="border-b border-rule px-4 py-2 last:border-0">
      <fieldset className="flex flex-wrap items-center gap-x-4">
        <legend className="sr-only">{complaint.label}</legend>
        <strong aria-hidden="true" className="min-w-36 flex-1">
          {complaint.label}
        </strong>
        {OUTCOMES.map((outcome) => (
          <label key={outcome} className="flex min-h-11 items-center gap-1.5">
            <input
              type="radio"
              name={`outcome ${complaint.finding}`}
              className="size-5 accent-accent"
              checked={verified?.outcome === outcome}
              onChange={() => onProved({ outcome, note })}
            />
            {named(outcome)}
          </label>
        ))}
      </fieldset>
      {verified && (
        <input
          aria-label={t`${complaint.label}: now`}
          placeholder={t`note: how it is now`}
          maxLength={300}
          value={note}
          onChange={(event) => setNote(event.target.value)}
          onBlur={() =>
            note !== (verified.note ?? '') &&
            onProved({ outcome: verified.outcome, note: note.trim() })
          }
          className="mb-1 min-h-10 w-full rounded-card border border-rule bg-paper px-2 placeholder:text-ink-soft"
        />
      )}
      {verified && verified.outcome !== 'gone' && (
        <p className="border-l-6 border-accent pl-3 leading-snug">
          <Trans>The valves are not the cause, or not the only one. {complaint.next_step}</Trans>
        </p>
      )}
    </li>
  )
}
