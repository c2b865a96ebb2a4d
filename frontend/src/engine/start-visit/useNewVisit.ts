import { t } from '@lingui/core/macro'
import { zodResolver } from '@hookform/resolvers/zod'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useForm, useWatch, type Path } from 'react-hook-form'
import { useNavigate } from 'react-router'
import { z } from '@/design/z'
import { stepAddress } from '@/api/addresses'
import { api, numberedId, ProblemError, restOf, unwrap, type Engine } from '@/api/client'
import { today } from '@/design/format'
import { typedFigure } from '@/design/typedFigure'

function figure(fault: string) {
  return z.string().transform((typed, context) => {
    const value = typedFigure(typed)
    if (value !== null) return value
    const message = typed.trim() === '' ? fault : t`‘${typed}’ is not a number such as 1.5`
    context.addIssue({ code: 'custom', message })
    return z.NEVER
  })
}

const ifKnown = z.string().transform((typed, context) => {
  const value = typedFigure(typed)
  if (value === null && typed.trim() !== '')
    context.addIssue({ code: 'custom', message: t`must be a number, or empty if not known` })
  return value
})

const visitSchema = z
  .object({
    date: z.string().min(1, t`enter a date`),
    usage: figure(t`enter what the meter shows`),
    temperature: ifKnown,
    lastRun: ifKnown,
    access: z.enum(['straight', 'awkward']),
  })
  .and(
    // The meter was replaced or rolled over: what the old one showed last, what the new one began at.
    z.discriminatedUnion('newMeter', [
      z.object({
        newMeter: z.literal(true),
        oldMeter: figure(t`enter the last reading of the old meter`),
        newMeterFrom: figure(t`enter a number, often 0`),
      }),
      z.object({ newMeter: z.literal(false), oldMeter: z.string(), newMeterFrom: z.string() }),
    ]),
  )

export type NewVisitValues = z.input<typeof visitSchema>
type NewVisit = z.output<typeof visitSchema>

/** Which field shows what the server says of a part of what was sent. */
const FIELDS: Record<string, Path<NewVisitValues>> = {
  '$.date': 'date',
  '$.usage': 'usage',
  '$.temperature_c': 'temperature',
  '$.last_run_hours_ago': 'lastRun',
  '$.new_meter.old': 'oldMeter',
  '$.new_meter.new': 'newMeterFrom',
}

/** The form of a new visit and its sending; `number`: which visit of the engine it will be. */
export function useNewVisit(engine: Engine, number: number) {
  const navigate = useNavigate()
  const queryClient = useQueryClient()
  const form = useForm<NewVisitValues, unknown, NewVisit>({
    resolver: zodResolver(visitSchema),
    defaultValues: {
      date: today(),
      usage: '',
      temperature: '',
      lastRun: '',
      access: 'straight',
      newMeter: false,
      oldMeter: '',
      newMeterFrom: '0',
    },
  })
  const values = useWatch({ control: form.control }) as NewVisitValues
  // Made once an opening, so that sending it twice begins it once.
  const [id, setId] = useState(() => numberedId('v', number))
  const start = useMutation({
    mutationFn: ({ visit, confirmed }: { visit: NewVisit; confirmed: string[] }) =>
      unwrap(
        api.POST('/api/engines/{engine_id}/visits', {
          params: { path: { engine_id: engine.id } },
          body: {
            id,
            date: visit.date,
            usage: visit.usage,
            temperature_c: visit.temperature,
            last_run_hours_ago: visit.lastRun,
            access: visit.access,
            new_meter: visit.newMeter ? { old: visit.oldMeter, new: visit.newMeterFrom } : null,
            confirmed,
          },
        }),
      ),
    onError: (error) => {
      if (!(error instanceof ProblemError) || error.asked) return
      for (const { path, message } of error.faults) {
        const field = FIELDS[path]
        if (field) form.setError(field, { type: 'server', message })
      }
    },
    onSuccess: async (visit) => {
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      setId(numberedId('v', number + 1))
      await navigate(stepAddress(engine.id, visit.id, 'complaint'))
    },
  })
  const { reset: forget } = start
  useEffect(
    () => form.subscribe({ formState: { values: true }, callback: () => forget() }),
    [form, forget],
  )
  const refused = start.error instanceof ProblemError ? start.error : undefined
  return {
    form,
    values,
    isPending: start.isPending,
    send: (confirmed: string[] = []) =>
      void form.handleSubmit((visit) => start.mutate({ visit, confirmed }))(),
    /** What the server asks about. */
    asked: refused?.asked ? refused : undefined,
    /** What is wrong and belongs to no field. */
    elsewhere: restOf(start.error, Object.keys(FIELDS)),
    faultAt: (name: keyof NewVisitValues) => form.formState.errors[name]?.message,
  }
}
