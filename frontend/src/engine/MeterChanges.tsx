import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import {
  api,
  ProblemError,
  restOf,
  unwrap,
  type EngineDetail,
  type MeterChange,
} from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { day, today } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'
import { UsageReadings } from './UsageReadings'

/** The usage meter's own history: replaced or rolled over, so that the running total goes on. */
export function MeterChanges({ detail: { engine } }: { detail: EngineDetail }) {
  const queryClient = useQueryClient()
  const [date, setDate] = useState(today())
  const [old, setOld] = useState('')
  const [begun, setBegun] = useState('0')
  const [checked, setChecked] = useState(false)
  const path = { params: { path: { engine_id: engine.id } } }
  const onSuccess = () => queryClient.invalidateQueries({ queryKey: ['engines'] })
  const note = useMutation({
    mutationFn: (body: MeterChange) =>
      unwrap(api.POST('/api/engines/{engine_id}/meter-changes', { ...path, body })),
    onSuccess: async () => {
      setOld('')
      setChecked(false)
      await onSuccess()
    },
  })
  const takeBack = useMutation({
    mutationFn: (body: MeterChange) =>
      unwrap(api.POST('/api/engines/{engine_id}/meter-changes/taken-back', { ...path, body })),
    onSuccess,
  })
  const refused = note.error instanceof ProblemError ? note.error : undefined
  const rest = restOf(note.error, ['$.date', '$.old', '$.new'])
  const faultOf = (typed: string, at: string) =>
    checked && typedFigure(typed) === null ? t`must be a number` : refused?.at(at)

  function submit(event: FormEvent) {
    event.preventDefault()
    setChecked(true)
    const [last, first] = [typedFigure(old), typedFigure(begun)]
    if (last !== null && first !== null) note.mutate({ date, old: last, new: first })
  }

  return (
    <Sheet title={t`Usage meter`} className="mt-4">
      <div className="p-4">
        <UsageReadings engine={engine} />
        <h3 className="font-semibold">{t`Replaced or rolled over`}</h3>
        <p className="text-sm text-ink-soft">
          {t`Enter it here so that the running total continues.`}
        </p>
        <ul>
          {(engine.meter_changes ?? []).map((change) => (
            <li
              key={`${change.date} ${change.old}`}
              className="flex min-h-11 flex-wrap items-center gap-x-3"
            >
              <Trans>
                {day(change.date)}: showed {change.old} {engine.usage_unit}, went on from{' '}
                {change.new}
              </Trans>
              <Button look="quiet" onClick={() => takeBack.mutate(change)}>
                {t`undo`}
              </Button>
            </li>
          ))}
        </ul>
        {takeBack.error && <ErrorNotice error={takeBack.error} />}
        <form onSubmit={submit} noValidate className="mt-2 grid gap-3 sm:grid-cols-4">
          <Field
            label={t`On`}
            type="date"
            max={today()}
            value={date}
            onChange={(event) => setDate(event.target.value)}
            fault={refused?.at('$.date')}
          />
          <Field
            label={t`Last reading of the old meter`}
            unit={engine.usage_unit}
            inputMode="decimal"
            value={old}
            onChange={(event) => setOld(event.target.value)}
            fault={faultOf(old, '$.old')}
          />
          <Field
            label={t`First reading of the new meter`}
            unit={engine.usage_unit}
            inputMode="decimal"
            value={begun}
            onChange={(event) => setBegun(event.target.value)}
            fault={faultOf(begun, '$.new')}
          />
          <Button type="submit" className="mt-6 self-start" disabled={note.isPending}>
            {t`Save the change`}
          </Button>
        </form>
        {rest && <ErrorNotice error={rest} />}
      </div>
    </Sheet>
  )
}
