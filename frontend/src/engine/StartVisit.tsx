import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { useNavigate } from 'react-router'
import { measureAddress } from '@/api/addresses'
import { api, numberedId, ProblemError, unwrap, type Engine } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { today, usage } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'

type Form = { date: string; usage: string; temperature: string; access: 'straight' | 'awkward' }

/** A figure as it was typed; a comma is a point. */
function figure(text: string): number | null {
  const trimmed = text.trim().replace(',', '.')
  return trimmed === '' || Number.isNaN(Number(trimmed)) ? null : Number(trimmed)
}

/** What is wrong with what was typed, by field, before it is sent. */
function faultsOf(form: Form): Partial<Record<keyof Form, string>> {
  const faults: Partial<Record<keyof Form, string>> = {}
  if (figure(form.usage) === null) faults.usage = 'needs a figure: what the meter shows'
  if (form.temperature.trim() !== '' && figure(form.temperature) === null) {
    faults.temperature = 'must be a figure, or left empty where it was not noted'
  }
  if (form.date === '') faults.date = 'needs a day'
  return faults
}

/** Begin a visit: when, at what usage, how cold, how the blade gets in. */
export function StartVisit({
  open,
  onClose,
  engine,
  asOf,
  number,
}: {
  open: boolean
  onClose: () => void
  engine: Engine
  asOf: number | null
  /** Which visit of the engine this will be. */
  number: number
}) {
  const navigate = useNavigate()
  const queryClient = useQueryClient()
  const [form, setForm] = useState<Form>({
    date: today(),
    usage: '',
    temperature: '',
    access: 'straight',
  })
  const [checked, setChecked] = useState(false)
  const faults = checked ? faultsOf(form) : {}
  // Made once an opening, so that sending it twice begins it once.
  const [id, setId] = useState(() => numberedId('v', number))
  const start = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST('/api/engines/{engine_id}/visits', {
          params: { path: { engine_id: engine.id } },
          body: {
            id,
            date: form.date,
            usage: figure(form.usage) ?? 0,
            temperature_c: figure(form.temperature),
            access: form.access,
          },
        }),
      ),
    onSuccess: async (visit) => {
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      setId(numberedId('v', number + 1))
      await navigate(measureAddress(engine.id, visit.id))
    },
  })
  const refused = start.error instanceof ProblemError ? start.error : undefined
  const fieldFaults = ['$.date', '$.usage', '$.temperature_c']
  const elsewhere = start.error && !fieldFaults.some((path) => refused?.at(path))

  function submit(event: FormEvent) {
    event.preventDefault()
    setChecked(true)
    if (Object.keys(faultsOf(form)).length === 0) start.mutate()
  }

  const set = (key: keyof Form) => (event: { target: { value: string } }) => {
    start.reset()
    setForm({ ...form, [key]: event.target.value })
  }
  const limit = engine.check_below_temperature_c
  const tooWarm = limit != null && (figure(form.temperature) ?? -99) > limit

  return (
    <Dialog open={open} onClose={onClose} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-ink/40" />
      <div className="fixed inset-0 flex items-center justify-center overflow-y-auto p-4">
        <DialogPanel className="w-full max-w-lg border-2 border-ink bg-paper p-6">
          <DialogTitle className="text-xl font-semibold">Start a visit</DialogTitle>
          <p className="mt-1 text-sm text-ink-soft">
            Ignition off and plug lead off before a hand goes near the valve gear.
          </p>
          <form onSubmit={submit} className="mt-4 grid grid-cols-2 gap-4" noValidate>
            <Field
              label="Day"
              type="date"
              value={form.date}
              max={today()}
              onChange={set('date')}
              fault={faults.date ?? refused?.at('$.date')}
            />
            <Field
              label="Running total"
              unit={engine.usage_unit}
              inputMode="decimal"
              autoFocus
              value={form.usage}
              onChange={set('usage')}
              hint={asOf === null ? undefined : `last visit: ${usage(asOf, engine.usage_unit)}`}
              fault={faults.usage ?? refused?.at('$.usage')}
            />
            <Field
              label="Engine soaked at"
              unit="°C"
              inputMode="decimal"
              value={form.temperature}
              onChange={set('temperature')}
              hint={
                tooWarm
                  ? `over ${limit} °C this is no cold check`
                  : 'overnight; empty where not noted'
              }
              fault={faults.temperature ?? refused?.at('$.temperature_c')}
            />
            <fieldset className="flex flex-col gap-1">
              <legend className="text-sm font-semibold">The blade goes in</legend>
              {(['straight', 'awkward'] as const).map((access) => (
                <label key={access} className="flex min-h-8 items-center gap-2">
                  <input
                    type="radio"
                    name="access"
                    value={access}
                    checked={form.access === access}
                    onChange={set('access')}
                    className="size-5 accent-accent"
                  />
                  {access === 'straight' ? 'straight' : 'at an angle'}
                </label>
              ))}
            </fieldset>
            {elsewhere && (
              <div className="col-span-2">
                <ErrorNotice error={start.error} />
              </div>
            )}
            <div className="col-span-2 flex justify-end gap-2">
              <Button look="quiet" onClick={onClose}>
                Leave it
              </Button>
              <Button look="main" type="submit" disabled={start.isPending}>
                Start measuring
              </Button>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  )
}
