import { t } from '@lingui/core/macro'
import { useState } from 'react'
import { ProblemError, type AwaitedPart, type Progress } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { today } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { WORK_STATES } from '@/shared/workStates'

const NEW_PART = (): AwaitedPart => ({
  what: '',
  source: '',
  ordered: today(),
  arrived: null,
  count: 1,
})

/** How far the work is, what it waits for, and until when it is promised. */
export function WorkStateForm({
  progress,
  began,
  error,
  pending,
  onKeep,
}: {
  progress: Progress
  /** The visit's day. */
  began: string
  error: Error | null
  pending: boolean
  onKeep: (progress: Progress) => void
}) {
  const [typed, setTyped] = useState(progress)
  const awaited = typed.awaited ?? []
  const faultAt = (path: string) => (error instanceof ProblemError ? error.at(path) : undefined)
  const setPart = (at: number, to: Partial<AwaitedPart>) =>
    setTyped({
      ...typed,
      awaited: awaited.map((part, index) => (index === at ? { ...part, ...to } : part)),
    })
  function choose(state: Progress['state']) {
    const first = state === 'waiting' && awaited.length === 0 ? [NEW_PART()] : awaited
    setTyped({ ...typed, state, awaited: first })
  }
  return (
    <form
      noValidate
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        onKeep({ ...typed, awaited: awaited.filter((part) => part.what.trim() !== '') })
      }}
    >
      <fieldset className="flex flex-wrap gap-x-6">
        <legend className="text-sm font-semibold">{t`The work is`}</legend>
        {(Object.keys(WORK_STATES) as Progress['state'][]).map((state) => (
          <label key={state} className="flex min-h-11 items-center gap-2">
            <input
              type="radio"
              name="state of the work"
              className="size-5 accent-accent"
              checked={typed.state === state}
              onChange={() => choose(state)}
            />
            {WORK_STATES[state].replace('work ', '')}
          </label>
        ))}
      </fieldset>
      {awaited.map((part, at) => (
        <Awaited
          key={at}
          part={part}
          faultAt={(key) => faultAt(`$.progress.awaited[${at}].${key}`)}
          onChange={(to) => setPart(at, to)}
          onRemove={() =>
            setTyped({ ...typed, awaited: awaited.filter((_, index) => index !== at) })
          }
        />
      ))}
      <Button
        look="quiet"
        className="self-start"
        onClick={() => setTyped({ ...typed, awaited: [...awaited, NEW_PART()] })}
      >
        {t`Add a part that is waited for`}
      </Button>
      <div className="grid grid-cols-2 gap-3">
        <Field
          label={t`Promised for`}
          type="date"
          value={typed.promised ?? ''}
          fault={faultAt('$.progress.promised')}
          onChange={(event) => setTyped({ ...typed, promised: event.target.value || null })}
        />
        {typed.state === 'done' && (
          <Field
            label={t`Done on`}
            type="date"
            min={began}
            value={typed.ended ?? today()}
            fault={faultAt('$.progress.ended')}
            onChange={(event) => setTyped({ ...typed, ended: event.target.value || null })}
          />
        )}
      </div>
      {error && <ErrorNotice error={error} />}
      <Button look="main" type="submit" className="self-start" disabled={pending}>
        {t`Save`}
      </Button>
    </form>
  )
}

function Awaited({
  part,
  faultAt,
  onChange,
  onRemove,
}: {
  part: AwaitedPart
  faultAt: (key: string) => string | undefined
  onChange: (to: Partial<AwaitedPart>) => void
  onRemove: () => void
}) {
  return (
    <div className="grid grid-cols-1 items-start gap-3 border-l-6 border-rule pl-3 sm:grid-cols-2">
      <Field
        label={t`Part`}
        value={part.what}
        maxLength={200}
        fault={faultAt('what')}
        onChange={(event) => onChange({ what: event.target.value })}
      />
      <Field
        label={t`Quantity`}
        inputMode="numeric"
        value={String(part.count ?? 1)}
        fault={faultAt('count')}
        onChange={(event) => onChange({ count: Number.parseInt(event.target.value, 10) || 1 })}
      />
      <Field
        label={t`Ordered from`}
        value={part.source ?? ''}
        maxLength={200}
        fault={faultAt('source')}
        onChange={(event) => onChange({ source: event.target.value })}
      />
      <Field
        label={t`Ordered on`}
        type="date"
        value={part.ordered ?? ''}
        fault={faultAt('ordered')}
        onChange={(event) => onChange({ ordered: event.target.value || null })}
      />
      <div className="flex items-end gap-3">
        <Field
          label={t`Arrived on`}
          type="date"
          value={part.arrived ?? ''}
          fault={faultAt('arrived')}
          onChange={(event) => onChange({ arrived: event.target.value || null })}
        />
        <Button look="quiet" aria-label={t`Remove ${part.what || t`this part`}`} onClick={onRemove}>
          {t`remove`}
        </Button>
      </div>
    </div>
  )
}
