import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react'
import { isDiesel } from '@/shared/fuel'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { useNavigate } from 'react-router'
import { stepAddress } from '@/api/addresses'
import { api, numberedId, ProblemError, unwrap, type Engine } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { today, usage } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Questions } from '@/shared/Questions'
import { typedFigure } from '@/design/typedFigure'

type Form = {
  date: string
  usage: string
  temperature: string
  lastRun: string
  access: 'straight' | 'awkward'
  /** The meter was replaced or rolled over: what the old one showed last, what the new one began at. */
  newMeter: boolean
  oldMeter: string
  newMeterFrom: string
}

const PATHS: Partial<Record<keyof Form, string>> = {
  date: '$.date',
  usage: '$.usage',
  temperature: '$.temperature_c',
  lastRun: '$.last_run_hours_ago',
  oldMeter: '$.new_meter.old',
  newMeterFrom: '$.new_meter.new',
}

/** What is wrong with what was typed, by field, before it is sent. */
function faultsOf(form: Form): Partial<Record<keyof Form, string>> {
  const faults: Partial<Record<keyof Form, string>> = {}
  if (typedFigure(form.usage) === null) faults.usage = 'enter what the meter shows'
  for (const key of ['temperature', 'lastRun'] as const) {
    if (form[key].trim() !== '' && typedFigure(form[key]) === null) {
      faults[key] = 'must be a number, or empty if not known'
    }
  }
  if (form.newMeter) {
    if (typedFigure(form.oldMeter) === null)
      faults.oldMeter = 'enter the last reading of the old meter'
    if (typedFigure(form.newMeterFrom) === null) faults.newMeterFrom = 'enter a number, often 0'
  }
  if (form.date === '') faults.date = 'enter a date'
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
    lastRun: '',
    access: 'straight',
    newMeter: false,
    oldMeter: '',
    newMeterFrom: '0',
  })
  const [checked, setChecked] = useState(false)
  const faults = checked ? faultsOf(form) : {}
  // Made once an opening, so that sending it twice begins it once.
  const [id, setId] = useState(() => numberedId('v', number))
  const start = useMutation({
    mutationFn: (confirmed: string[]) =>
      unwrap(
        api.POST('/api/engines/{engine_id}/visits', {
          params: { path: { engine_id: engine.id } },
          body: {
            id,
            date: form.date,
            usage: typedFigure(form.usage) ?? 0,
            temperature_c: typedFigure(form.temperature),
            last_run_hours_ago: typedFigure(form.lastRun),
            access: form.access,
            new_meter: form.newMeter
              ? { old: typedFigure(form.oldMeter) ?? 0, new: typedFigure(form.newMeterFrom) ?? 0 }
              : null,
            confirmed,
          },
        }),
      ),
    onSuccess: async (visit) => {
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      setId(numberedId('v', number + 1))
      await navigate(stepAddress(engine.id, visit.id, 'complaint'))
    },
  })
  const refused = start.error instanceof ProblemError ? start.error : undefined
  const elsewhere =
    start.error && !refused?.asked && !Object.values(PATHS).some((path) => refused?.at(path))
  const faultAt = (key: keyof Form) =>
    faults[key] ?? (refused?.asked ? undefined : refused?.at(PATHS[key] ?? ''))

  function submit(event: FormEvent) {
    event.preventDefault()
    setChecked(true)
    if (Object.keys(faultsOf(form)).length === 0) start.mutate([])
  }

  const set = (key: keyof Form) => (event: { target: { value: string } }) => {
    start.reset()
    setForm({ ...form, [key]: event.target.value })
  }
  const limit = engine.check_below_temperature_c
  const tooWarm = limit != null && (typedFigure(form.temperature) ?? -99) > limit
  const backwards =
    form.newMeter || (asOf !== null && (typedFigure(form.usage) ?? asOf) < asOf) || faultAt('usage')

  return (
    <Dialog open={open} onClose={onClose} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-ink/40" />
      <div className="fixed inset-0 flex items-center justify-center overflow-y-auto p-4">
        <DialogPanel className="w-full max-w-xl border-2 border-ink bg-paper p-6">
          <DialogTitle className="text-xl font-semibold">New visit</DialogTitle>
          <p className="mt-1 text-sm text-ink-soft">
            {isDiesel(engine)
              ? 'Stop control at stop before a hand goes near the valve gear.'
              : 'Ignition off and plug lead off before a hand goes near the valve gear.'}
          </p>
          <form onSubmit={submit} className="mt-4 grid grid-cols-2 gap-4" noValidate>
            <Field
              label="Day"
              type="date"
              value={form.date}
              max={today()}
              onChange={set('date')}
              fault={faultAt('date')}
            />
            <Field
              label="The meter shows"
              unit={engine.usage_unit}
              inputMode="decimal"
              autoFocus
              value={form.usage}
              onChange={set('usage')}
              hint={asOf === null ? undefined : `last visit: ${usage(asOf, engine.usage_unit)}`}
              fault={faultAt('usage')}
            />
            {backwards && (
              <div className="col-span-2 grid grid-cols-2 gap-x-4 gap-y-2">
                <label className="col-span-2 flex min-h-8 items-center gap-2">
                  <input
                    type="checkbox"
                    className="size-5 accent-accent"
                    checked={form.newMeter}
                    onChange={(event) => {
                      start.reset()
                      setForm({ ...form, newMeter: event.target.checked })
                    }}
                  />
                  The meter was replaced, or rolled over
                </label>
                {form.newMeter && (
                  <>
                    <Field
                      label="Last reading of the old meter"
                      unit={engine.usage_unit}
                      inputMode="decimal"
                      value={form.oldMeter}
                      onChange={set('oldMeter')}
                      fault={faultAt('oldMeter')}
                    />
                    <Field
                      label="First reading of the new meter"
                      unit={engine.usage_unit}
                      inputMode="decimal"
                      value={form.newMeterFrom}
                      onChange={set('newMeterFrom')}
                      fault={faultAt('newMeterFrom')}
                    />
                  </>
                )}
              </div>
            )}
            <Field
              label="Engine temperature (cold-soaked)"
              unit="°C"
              inputMode="decimal"
              value={form.temperature}
              onChange={set('temperature')}
              hint={
                tooWarm
                  ? `above ${limit} °C this is not a cold check`
                  : 'after standing overnight; empty if not known'
              }
              fault={faultAt('temperature')}
            />
            <Field
              label="Last run"
              unit="hours ago"
              inputMode="decimal"
              value={form.lastRun}
              onChange={set('lastRun')}
              hint="empty if not known"
              fault={faultAt('lastRun')}
            />
            <fieldset className="flex flex-col gap-1">
              <legend className="text-sm font-semibold">Access for the blade</legend>
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
            {refused?.asked && (
              <div className="col-span-2">
                <Questions
                  error={refused}
                  suggestionText={(figure) => `${figure} °C`}
                  onUse={(_, figure) => {
                    start.reset()
                    setForm({ ...form, temperature: String(figure) })
                  }}
                  onConfirm={(paths) => start.mutate(paths)}
                />
              </div>
            )}
            {elsewhere && (
              <div className="col-span-2">
                <ErrorNotice error={start.error} />
              </div>
            )}
            <div className="col-span-2 flex justify-end gap-2">
              <Button look="quiet" onClick={onClose}>
                Cancel
              </Button>
              <Button look="main" type="submit" disabled={start.isPending}>
                Start visit
              </Button>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  )
}
