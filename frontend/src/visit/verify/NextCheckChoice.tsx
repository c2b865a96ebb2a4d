import { useState, type FormEvent } from 'react'
import { ProblemError, type Verification } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { day, usage } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Questions } from '@/shared/Questions'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'
import { useKeepMinutes, useKeepRecheck } from '@/shared/verifyQueries'

type Place = { engineId: string; visitId: string; verification: Verification }

/** When to recheck, as proposed or as one chooses; and how long the work took. */
export function NextCheckChoice({ usageUnit, ...place }: Place & { usageUnit: string }) {
  const { recheck } = place.verification
  return (
    <Sheet title="Next check">
      <p className="px-4 pt-2">
        <strong>{recheck.now ? 'Now' : usage(recheck.usage, usageUnit)}</strong>
        {!recheck.now &&
          recheck.day &&
          `, about ${day(recheck.day)} at the rate of use so far`}: {recheck.reason}
        {!recheck.kept && ' (recommended)'}.
      </p>
      <RecheckForm key={`${recheck.usage} ${recheck.reason}`} {...place} usageUnit={usageUnit} />
      <MinutesForm key={place.verification.minutes ?? ''} {...place} />
    </Sheet>
  )
}

function RecheckForm({
  engineId,
  visitId,
  verification,
  usageUnit,
}: Place & { usageUnit: string }) {
  const { recheck } = verification
  const keep = useKeepRecheck(engineId, visitId)
  const [at, setAt] = useState(recheck.kept ? String(recheck.usage) : '')
  const [reason, setReason] = useState(recheck.kept ? recheck.reason : '')
  const figure = typedFigure(at)
  const [checked, setChecked] = useState(false)

  function send(confirmed: string[] = []) {
    setChecked(true)
    if (figure !== null)
      keep.mutate({ recheck: { usage: figure, reason: reason.trim() }, confirmed })
  }

  return (
    <form
      className="grid grid-cols-[8rem_1fr_auto] items-start gap-x-3 gap-y-1 px-4 py-2"
      onSubmit={(event: FormEvent) => {
        event.preventDefault()
        send()
      }}
    >
      <Field
        label="Check at instead"
        unit={usageUnit}
        inputMode="decimal"
        value={at}
        fault={checked && figure === null ? 'enter a number' : undefined}
        onChange={(event) => setAt(event.target.value)}
      />
      <Field
        label="Reason"
        maxLength={300}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Button type="submit" className="mt-6">
        Save
      </Button>
      {keep.error && (
        <div className="col-span-3">
          <Questions error={keep.error} onConfirm={send} />
          {!(keep.error instanceof ProblemError && keep.error.asked) && (
            <ErrorNotice error={keep.error} />
          )}
        </div>
      )}
      {recheck.kept && (
        <Button
          look="quiet"
          className="col-span-3 justify-self-start"
          onClick={() => keep.mutate({ recheck: null, confirmed: [] })}
        >
          use the recommendation
        </Button>
      )}
    </form>
  )
}

function MinutesForm({ engineId, visitId, verification }: Place) {
  const keep = useKeepMinutes(engineId, visitId)
  const stored = verification.minutes == null ? '' : String(verification.minutes)
  const [typed, setTyped] = useState(stored)
  const figure = typedFigure(typed)
  const isFigure = typed.trim() === '' || figure !== null
  const send = () => typed !== stored && isFigure && keep.mutate(figure)
  return (
    <div className="border-t border-rule px-4 py-2">
      <div className="w-56">
        <Field
          label="Labour time"
          unit="min"
          inputMode="decimal"
          value={typed}
          fault={isFigure ? undefined : 'must be a number, or empty'}
          hint="empty: the workshop’s times"
          onChange={(event) => setTyped(event.target.value)}
          onBlur={send}
          onKeyDown={(event) => event.key === 'Enter' && send()}
        />
      </div>
      {keep.error && <ErrorNotice error={keep.error} />}
    </div>
  )
}
