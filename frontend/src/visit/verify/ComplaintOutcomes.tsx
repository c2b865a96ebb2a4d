import { useState } from 'react'
import type { Outcome, Proof, Proved } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { useProve } from '@/shared/verifyQueries'

const OUTCOMES: Outcome[] = ['gone', 'better', 'same', 'worse']
type Complaint = Proof['complaints'][number]

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
  const prove = useProve(engineId, visitId)
  if (complaints.length === 0) {
    return <p className="p-4 text-ink-soft">No complaint was noted at Listen.</p>
  }
  return (
    <>
      {prove.error && <ErrorNotice error={prove.error} />}
      <ul>
        {complaints.map((one) => (
          <OneComplaint
            key={one.finding}
            complaint={one}
            onProved={(proved) =>
              prove.mutate({ id: one.finding, proved, was: one.proved ?? null })
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
  onProved: (proved: Proved | null) => void
}) {
  const { proved } = complaint
  const [note, setNote] = useState(proved?.note ?? '')
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
              checked={proved?.outcome === outcome}
              onChange={() => onProved({ outcome, note })}
            />
            {outcome}
          </label>
        ))}
      </fieldset>
      {proved && (
        <input
          aria-label={`${complaint.label}: how it is now`}
          placeholder="how it is now"
          maxLength={300}
          value={note}
          onChange={(event) => setNote(event.target.value)}
          onBlur={() =>
            note !== (proved.note ?? '') && onProved({ outcome: proved.outcome, note: note.trim() })
          }
          className="mb-1 min-h-10 w-full rounded-card border border-rule bg-paper px-2 placeholder:text-ink-soft"
        />
      )}
      {proved && proved.outcome !== 'gone' && (
        <p className="border-l-6 border-accent pl-3 leading-snug">
          Not the valves, or not only. {complaint.next_look}
        </p>
      )}
    </li>
  )
}
