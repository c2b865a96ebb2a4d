import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState, type FormEvent } from 'react'
import { ProblemError, type Recheck, type Verification } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { FigureBox } from '@/design/FigureBox'
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
    <Sheet title={t`Next check`}>
      <p className="px-4 pt-2">
        <strong>{recheck.now ? t`Now` : usage(recheck.usage, usageUnit)}</strong>
        {!recheck.now &&
          recheck.day &&
          t`, about ${day(recheck.day)} at the rate of use so far`}: {recheck.reason}
        {!recheck.kept && t` (recommended)`}.
      </p>
      <RecheckForm {...place} usageUnit={usageUnit} />
      <MinutesForm {...place} />
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
  const stored = recheck.kept ? { usage: recheck.usage, reason: recheck.reason } : null
  // What somebody else chooses meanwhile does not take the place of what is being typed here.
  const [draft, setDraft] = useState<{ at: string; reason: string; was: Recheck | null }>()
  const { at, reason } = draft ?? {
    at: stored ? String(stored.usage) : '',
    reason: stored?.reason ?? '',
  }
  const figure = typedFigure(at)
  const [checked, setChecked] = useState(false)
  const type = (change: { at?: string; reason?: string }) =>
    setDraft({ at, reason, was: draft && !keep.isError ? draft.was : stored, ...change })

  function send(confirmed: string[] = []) {
    setChecked(true)
    if (figure === null) return
    const stale = keep.error instanceof ProblemError && keep.error.status === 409
    const was = draft && !stale ? draft.was : stored
    keep.mutate(
      { recheck: { usage: figure, reason: reason.trim() }, was, confirmed },
      { onSuccess: () => setDraft(undefined) },
    )
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
        label={t`Check at instead`}
        unit={usageUnit}
        inputMode="decimal"
        value={at}
        fault={checked && figure === null ? t`enter a number` : undefined}
        onChange={(event) => type({ at: event.target.value })}
      />
      <Field
        label={t`Reason`}
        maxLength={300}
        value={reason}
        onChange={(event) => type({ reason: event.target.value })}
      />
      <Button type="submit" className="mt-6">
        {t`Save`}
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
          onClick={() =>
            keep.mutate(
              { recheck: null, was: stored, confirmed: [] },
              { onSuccess: () => setDraft(undefined) },
            )
          }
        >
          {t`use the recommendation`}
        </Button>
      )}
    </form>
  )
}

function MinutesForm({ engineId, visitId, verification }: Place) {
  const keep = useKeepMinutes(engineId, visitId)
  const [kept, setKept] = useState(0)
  return (
    <div className="border-t border-rule px-4 py-2">
      <p className="text-sm font-semibold" aria-hidden="true">
        <Trans>
          Labour time <span className="font-normal text-ink-soft">(min)</span>
        </Trans>
      </p>
      <FigureBox
        label={t`Labour time (min)`}
        stored={verification.minutes ?? null}
        onChange={() => keep.reset()}
        kept={kept}
        onKeep={(minutes, was) =>
          keep.mutate({ minutes, was }, { onSuccess: () => setKept((count) => count + 1) })
        }
      />
      <p className="text-sm text-ink-soft">{t`empty: the workshop’s times`}</p>
      {keep.error && <ErrorNotice error={keep.error} />}
    </div>
  )
}
