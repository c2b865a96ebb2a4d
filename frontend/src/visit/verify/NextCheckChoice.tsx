import { useState, type FormEvent } from 'react'
import { ProblemError, type Proof } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { day, usage } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Questions } from '@/shared/Questions'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'
import { useKeepMinutes, useKeepRecheck } from '@/shared/verifyQueries'

type Place = { engineId: string; visitId: string; proof: Proof }

/** When to look again, as proposed or as one chooses; and how long the work took. */
export function NextCheckChoice({ usageUnit, ...place }: Place & { usageUnit: string }) {
  const { recheck } = place.proof
  return (
    <Sheet title="Look again">
      <p className="px-4 pt-2">
        <strong>{recheck.now ? 'Now' : usage(recheck.usage, usageUnit)}</strong>
        {!recheck.now && recheck.day && `, about ${day(recheck.day)} at the use so far`}:{' '}
        {recheck.reason}
        {!recheck.kept && ' (proposed)'}.
      </p>
      <RecheckForm key={`${recheck.usage} ${recheck.reason}`} {...place} usageUnit={usageUnit} />
      <MinutesForm key={place.proof.minutes ?? ''} {...place} />
    </Sheet>
  )
}

function RecheckForm({ engineId, visitId, proof, usageUnit }: Place & { usageUnit: string }) {
  const { recheck } = proof
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
        label="Rather at"
        unit={usageUnit}
        inputMode="decimal"
        value={at}
        fault={checked && figure === null ? 'needs a figure' : undefined}
        onChange={(event) => setAt(event.target.value)}
      />
      <Field
        label="Because"
        maxLength={300}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Button type="submit" className="mt-6">
        Keep
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
          back to what is proposed
        </Button>
      )}
    </form>
  )
}

function MinutesForm({ engineId, visitId, proof }: Place) {
  const keep = useKeepMinutes(engineId, visitId)
  const stored = proof.minutes == null ? '' : String(proof.minutes)
  const [typed, setTyped] = useState(stored)
  const figure = typedFigure(typed)
  const isFigure = typed.trim() === '' || figure !== null
  const send = () => typed !== stored && isFigure && keep.mutate(figure)
  return (
    <div className="border-t border-rule px-4 py-2">
      <div className="w-56">
        <Field
          label="The work took"
          unit="min"
          inputMode="decimal"
          value={typed}
          fault={isFigure ? undefined : 'must be a figure, or empty'}
          hint="empty: by the shop's times"
          onChange={(event) => setTyped(event.target.value)}
          onBlur={send}
          onKeyDown={(event) => event.key === 'Enter' && send()}
        />
      </div>
      {keep.error && <ErrorNotice error={keep.error} />}
    </div>
  )
}
