import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { stepAddress } from '@/api/addresses'
import type { Case, Cause, ConfirmedCause } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { day, today } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import type { PlanValve } from '@/head-plan/planGeometry'
import { verificationQuery } from '@/shared/verifyQueries'
import { causeKey } from './CauseList'
import { placeName } from './place'
import { useOutcome } from './queries'

const NOTHING = 'nothing'
const SOMETHING_ELSE = 'something-else'

/** The place of a cause as it is confirmed. */
function confirmedAt(cause: Cause, valves: PlanValve[]): Pick<ConfirmedCause, 'cylinder' | 'side'> {
  const here = valves.filter((valve) => cause.valves.includes(valve.id))
  const [first] = here
  switch (cause.place) {
    case 'valve':
      return { cylinder: first?.cylinder, side: first?.side }
    case 'cylinder':
      return { cylinder: first?.cylinder }
    case 'side':
      return { side: first?.side }
    case 'engine':
      return {}
  }
}

/** What was really found: it closes the case, and what it teaches counts from then on. */
export function Outcome({
  engineId,
  open,
  causes,
  chosen,
  learnedCases,
  valves,
}: {
  engineId: string
  open: Case
  causes: Cause[]
  chosen: Cause | undefined
  learnedCases: number
  valves: PlanValve[]
}) {
  const outcome = useOutcome(engineId, open.id)
  if (open.closed !== null) {
    return (
      <Sheet title={t`Closed on ${day(open.closed)}`}>
        <div className="px-4 py-2">
          <Found confirmed={open.confirmed ?? []} causes={causes} valves={valves} />
          <p className="text-sm text-ink-soft">
            <Trans>
              It counts among the{' '}
              <Plural value={learnedCases} one="# closed case" other="# closed cases" /> that help
              to rank the causes of other cases.
            </Trans>
          </p>
          <Button
            className="mt-2"
            onClick={() => outcome.mutate(null)}
            disabled={outcome.isPending}
          >
            {t`Reopen case`}
          </Button>
        </div>
        {outcome.error && <ErrorNotice error={outcome.error} />}
      </Sheet>
    )
  }
  return (
    <Sheet title={t`Outcome`}>
      {open.visit !== null && <ProvedAt engineId={engineId} visitId={open.visit} />}
      <ClosingForm
        causes={causes}
        chosen={chosen}
        valves={valves}
        opened={open.opened}
        pending={outcome.isPending}
        onClose={(closed, confirmed) => outcome.mutate({ closed, confirmed })}
      />
      {outcome.error && <ErrorNotice error={outcome.error} />}
    </Sheet>
  )
}

/** What became of the complaints at the case's visit. */
function ProvedAt({ engineId, visitId }: { engineId: string; visitId: string }) {
  const verification = useQuery(verificationQuery(engineId, visitId))
  const answered = verification.data?.complaints.filter((one) => one.verified) ?? []
  if (answered.length === 0) {
    return (
      <p className="px-4 pt-2 text-sm text-ink-soft">
        <Trans>
          Whether the complaint is gone was not entered at{' '}
          <Link to={stepAddress(engineId, visitId, 'verify')}>visit {visitId}</Link> yet.
        </Trans>
      </p>
    )
  }
  return (
    <p className="px-4 pt-2">
      <Trans>
        After <Link to={stepAddress(engineId, visitId, 'verify')}>visit {visitId}</Link>:{' '}
        {answered.map((one) => `${one.label} ${one.verified?.outcome}`).join(', ')}.
      </Trans>
    </p>
  )
}

function Found({
  confirmed,
  causes,
  valves,
}: {
  confirmed: ConfirmedCause[]
  causes: Cause[]
  valves: PlanValve[]
}) {
  const kinds = new Map(causes.map((cause) => [cause.cause, cause]))
  if (confirmed.length === 0) return <p className="font-semibold">{t`Nothing was found.`}</p>
  const elsewhere = confirmed.every((one) => kinds.get(one.cause)?.elsewhere ?? true)
  return (
    <>
      <ul>
        {confirmed.map((one) => (
          <li key={`${one.cause} ${one.cylinder} ${one.side}`}>
            <span className="font-semibold">{kinds.get(one.cause)?.label ?? t`other cause`}</span>
            {(one.cylinder != null || one.side != null) &&
              `, ${placeName({ cylinder: one.cylinder ?? undefined, side: one.side ?? undefined }, valves)}`}
            {one.note && <span className="text-ink-soft">: {one.note}</span>}
          </li>
        ))}
      </ul>
      {elsewhere && <p>{t`It was not the valves.`}</p>}
    </>
  )
}

function ClosingForm({
  causes,
  chosen,
  valves,
  opened,
  pending,
  onClose,
}: {
  causes: Cause[]
  chosen: Cause | undefined
  valves: PlanValve[]
  opened: string
  pending: boolean
  onClose: (closed: string, confirmed: ConfirmedCause[]) => void
}) {
  const [picked, setPicked] = useState<string>()
  const [second, setSecond] = useState('')
  const [note, setNote] = useState('')
  const [closed, setClosed] = useState(today())
  const key = picked ?? (chosen ? causeKey(chosen) : NOTHING)
  const byName = [...causes].sort(
    (a, b) => a.label.localeCompare(b.label) || a.where.localeCompare(b.where),
  )
  const needsNote = key === SOMETHING_ELSE && note.trim() === ''

  function confirmed(): ConfirmedCause[] {
    if (key === NOTHING) return []
    const words = note.trim() || undefined
    if (key === SOMETHING_ELSE) return [{ cause: SOMETHING_ELSE, note: words }]
    return [key, second]
      .flatMap((one) => causes.filter((cause) => causeKey(cause) === one))
      .map((cause, index) => ({
        cause: cause.cause,
        ...confirmedAt(cause, valves),
        note: index === 0 ? words : undefined,
      }))
  }

  return (
    <form
      className="flex flex-col gap-3 px-4 py-3"
      onSubmit={(event) => {
        event.preventDefault()
        if (!needsNote) onClose(closed, confirmed())
      }}
    >
      <CauseChoice
        label={t`What was found`}
        value={key}
        onChange={setPicked}
        causes={byName}
        main
      />
      {key !== NOTHING && key !== SOMETHING_ELSE && (
        <CauseChoice label={t`Together with`} value={second} onChange={setSecond} causes={byName} />
      )}
      <Field
        label={key === SOMETHING_ELSE ? t`Which cause` : t`Description`}
        value={note}
        maxLength={500}
        fault={needsNote ? t`Enter what was found` : undefined}
        onChange={(event) => setNote(event.target.value)}
      />
      <Field
        label={t`Closed on`}
        type="date"
        value={closed}
        min={opened}
        max={today()}
        required
        onChange={(event) => setClosed(event.target.value)}
      />
      <p className="text-sm text-ink-soft">
        {t`The product learns from it how likely each cause is and what it leads to. Reopening the case undoes that.`}
      </p>
      <Button type="submit" look="main" disabled={pending}>
        {t`Close case`}
      </Button>
    </form>
  )
}

function CauseChoice({
  label,
  value,
  onChange,
  causes,
  main = false,
}: {
  label: string
  value: string
  onChange: (key: string) => void
  causes: Cause[]
  /** Whether it may also be none of the causes. */
  main?: boolean
}) {
  const id = `outcome-${label.toLowerCase().replaceAll(' ', '-')}`
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="text-sm font-semibold">
        {label}
      </label>
      <select
        id={id}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="min-h-11 rounded-card border border-rule-strong bg-sheet px-2"
      >
        {main ? (
          <>
            <option value={NOTHING}>{t`nothing was found`}</option>
            <option value={SOMETHING_ELSE}>{t`other cause, in words`}</option>
          </>
        ) : (
          <option value="">{t`nothing else`}</option>
        )}
        {causes.map((cause) => (
          <option key={causeKey(cause)} value={causeKey(cause)}>
            {cause.label}, {cause.where}
          </option>
        ))}
      </select>
    </div>
  )
}
