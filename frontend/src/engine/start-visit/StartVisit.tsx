import { t } from '@lingui/core/macro'
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react'
import type { ComponentProps } from 'react'
import type { Engine } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { today, usage } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { typedFigure } from '@/design/typedFigure'
import { isDiesel } from '@/shared/fuel'
import { Questions } from '@/shared/Questions'
import { NewMeter } from './NewMeter'
import { useNewVisit, type NewVisitValues } from './useNewVisit'

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
  const visit = useNewVisit(engine, number)
  const { form, values, asked, elsewhere, faultAt } = visit
  const of = (name: keyof NewVisitValues): Partial<ComponentProps<typeof Field>> => ({
    ...form.register(name),
    fault: faultAt(name),
  })
  const limit = engine.check_below_temperature_c
  const tooWarm = limit != null && (typedFigure(values.temperature) ?? -99) > limit
  const backwards =
    values.newMeter ||
    (asOf !== null && (typedFigure(values.usage) ?? asOf) < asOf) ||
    faultAt('usage')

  return (
    <Dialog open={open} onClose={onClose} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-ink/40" />
      <div className="fixed inset-0 flex items-center justify-center overflow-y-auto p-4">
        <DialogPanel className="w-full max-w-xl border-2 border-ink bg-paper p-6">
          <DialogTitle className="text-xl font-semibold">{t`New visit`}</DialogTitle>
          <p className="mt-1 text-sm text-ink-soft">
            {isDiesel(engine)
              ? t`Stop control at stop before a hand goes near the valve gear.`
              : t`Ignition off and plug lead off before a hand goes near the valve gear.`}
          </p>
          <form
            onSubmit={(event) => {
              event.preventDefault()
              visit.send()
            }}
            className="mt-4 grid grid-cols-2 gap-4"
            noValidate
          >
            <Field label={t`Day`} type="date" max={today()} {...of('date')} />
            <Field
              label={t`The meter shows`}
              unit={engine.usage_unit}
              inputMode="decimal"
              autoFocus
              hint={asOf === null ? undefined : t`last visit: ${usage(asOf, engine.usage_unit)}`}
              {...of('usage')}
            />
            {backwards && (
              <NewMeter
                isNew={values.newMeter}
                unit={engine.usage_unit}
                register={form.register}
                faultAt={faultAt}
              />
            )}
            <Field
              label={t`Engine temperature (cold-soaked)`}
              unit="°C"
              inputMode="decimal"
              hint={
                tooWarm
                  ? t`above ${limit} °C this is not a cold check`
                  : t`after standing overnight; empty if not known`
              }
              {...of('temperature')}
            />
            <Field
              label={t`Last run`}
              unit={t`hours ago`}
              inputMode="decimal"
              hint={t`empty if not known`}
              {...of('lastRun')}
            />
            <fieldset className="flex flex-col gap-1">
              <legend className="text-sm font-semibold">{t`Access for the blade`}</legend>
              {(['straight', 'awkward'] as const).map((access) => (
                <label key={access} className="flex min-h-8 items-center gap-2">
                  <input
                    type="radio"
                    value={access}
                    className="size-5 accent-accent"
                    {...form.register('access')}
                  />
                  {access === 'straight' ? t`straight` : t`at an angle`}
                </label>
              ))}
            </fieldset>
            {asked && (
              <div className="col-span-2">
                <Questions
                  error={asked}
                  suggestionText={(figure) => `${figure} °C`}
                  onUse={(_, figure) => form.setValue('temperature', String(figure))}
                  onConfirm={visit.send}
                />
              </div>
            )}
            {elsewhere && (
              <div className="col-span-2">
                <ErrorNotice error={elsewhere} />
              </div>
            )}
            <div className="col-span-2 flex justify-end gap-2">
              <Button look="quiet" onClick={onClose}>
                {t`Cancel`}
              </Button>
              <Button look="main" type="submit" disabled={visit.isPending}>
                {t`Start visit`}
              </Button>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  )
}
