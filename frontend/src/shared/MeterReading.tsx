import { t } from '@lingui/core/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, ProblemError, restOf, unwrap } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { today } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { typedFigure } from '@/design/typedFigure'
import { Questions } from '@/shared/Questions'

/** What the usage meter showed on a day without a visit. */
export function MeterReading({
  engineId,
  usageUnit,
  name,
}: {
  engineId: string
  usageUnit: string
  /** Tells this form from those of other engines. */
  name: string
}) {
  const queryClient = useQueryClient()
  const [date, setDate] = useState(today())
  const [meter, setMeter] = useState('')
  const [checked, setChecked] = useState(false)
  const note = useMutation({
    mutationFn: (body: { date: string; meter: number; confirmed: string[] }) =>
      unwrap(
        api.POST('/api/engines/{engine_id}/usage-readings', {
          params: { path: { engine_id: engineId } },
          body,
        }),
      ),
    onSuccess: async () => {
      setMeter('')
      setChecked(false)
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      await queryClient.invalidateQueries({ queryKey: ['week'] })
    },
  })
  const problem = note.error instanceof ProblemError ? note.error : undefined
  const refused = problem && !problem.asked ? problem : undefined
  const rest = restOf(note.error, ['$.meter', '$.date'])
  const send = (confirmed: string[]) => {
    const figure = typedFigure(meter)
    setChecked(true)
    if (figure !== null) note.mutate({ date, meter: figure, confirmed })
  }
  function submit(event: FormEvent) {
    event.preventDefault()
    send([])
  }
  return (
    <form onSubmit={submit} noValidate aria-label={t`Meter of ${name}`}>
      <div className="flex flex-wrap items-start gap-2">
        <div className="w-40">
          <Field
            label={t`The meter shows`}
            unit={usageUnit}
            inputMode="decimal"
            value={meter}
            onChange={(event) => setMeter(event.target.value)}
            fault={
              checked && typedFigure(meter) === null ? t`must be a number` : refused?.at('$.meter')
            }
          />
        </div>
        <div className="w-44">
          <Field
            label={t`read on`}
            type="date"
            max={today()}
            value={date}
            onChange={(event) => setDate(event.target.value)}
            fault={refused?.at('$.date')}
          />
        </div>
        <Button type="submit" className="mt-6" disabled={note.isPending}>
          {t`Save the reading`}
        </Button>
      </div>
      <Questions error={note.error} onConfirm={send} />
      {rest && <ErrorNotice error={rest} />}
    </form>
  )
}
