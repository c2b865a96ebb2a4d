import { t } from '@lingui/core/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, ProblemError, restOf, unwrap, type WorkshopSettings } from '@/api/client'
import { workshopSettingsQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { SelectField } from '@/design/SelectField'
import { PRESSURE_UNITS, VACUUM_UNITS } from '@/design/pressure'
import { MoneyFields, shownMoney } from './MoneyFields'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'
import { adjustmentWords } from '@/shared/adjustments'

/** The workshop's rate and how long its hands take: what a price is made of. */
export function WorkshopFigures() {
  const { data, error } = useQuery(workshopSettingsQuery)
  if (!data)
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the workshop settings`} />
  return <Figures start={data} />
}

const LENGTH_UNITS = [
  { id: 'mm' as const, label: t`millimetres` },
  { id: 'thou' as const, label: t`thou (thousandths of an inch)` },
]

/** Whether a fault of it is shown at its field; a unit is one of a few. */
const hasField = (key: string) => !key.endsWith('_unit')

function shown(value: number | null | undefined): string {
  return value == null ? '' : String(value)
}

function shownMinutes(settings: WorkshopSettings): Record<string, string> {
  return Object.fromEntries(
    Object.entries(settings.set_minutes_per_valve).map(([kind, value]) => [kind, shown(value)]),
  )
}

function shownRisk(settings: WorkshopSettings): string {
  return String(Number((settings.next_check_risk * 100).toPrecision(6)))
}

type Units = {
  lengths: WorkshopSettings['length_unit']
  pressure: WorkshopSettings['pressure_unit']
  vacuum: WorkshopSettings['vacuum_unit']
}

function UnitFields({
  typed,
  onLengths,
  onPressure,
  onVacuum,
}: {
  typed: Units
  onLengths: (unit: Units['lengths']) => void
  onPressure: (unit: Units['pressure']) => void
  onVacuum: (unit: Units['vacuum']) => void
}) {
  return (
    <>
      <div className="col-span-2">
        <SelectField
          label={t`Lengths`}
          hint={t`where a device has chosen nothing else`}
          value={typed.lengths}
          choices={LENGTH_UNITS}
          onChange={onLengths}
        />
      </div>
      <SelectField
        label={t`Pressure`}
        value={typed.pressure}
        choices={PRESSURE_UNITS}
        onChange={onPressure}
      />
      <SelectField
        label={t`Vacuum`}
        value={typed.vacuum}
        choices={VACUUM_UNITS}
        onChange={onVacuum}
      />
    </>
  )
}

function Figures({ start }: { start: WorkshopSettings }) {
  const queryClient = useQueryClient()
  const [before, setBefore] = useState(start)
  const [money, setMoney] = useState(shownMoney(start))
  const [check, setCheck] = useState(shown(start.check_minutes_per_valve))
  const [camshafts, setCamshafts] = useState(shown(start.camshafts_out_minutes))
  const [setting, setSetting] = useState(shownMinutes(start))
  const [risk, setRisk] = useState(shownRisk(start))
  const [margin, setMargin] = useState(shown(start.next_check_margin_mm))
  const [lengths, setLengths] = useState(start.length_unit)
  const [pressure, setPressure] = useState(start.pressure_unit)
  const [vacuum, setVacuum] = useState(start.vacuum_unit)
  const [checked, setChecked] = useState(false)
  /** What is stored, what others set meanwhile among it. */
  function take(kept: WorkshopSettings) {
    setMoney(shownMoney(kept))
    setCheck(shown(kept.check_minutes_per_valve))
    setCamshafts(shown(kept.camshafts_out_minutes))
    setSetting({ ...setting, ...shownMinutes(kept) })
    setRisk(shownRisk(kept))
    setMargin(shown(kept.next_check_margin_mm))
    setLengths(kept.length_unit)
    setPressure(kept.pressure_unit)
    setVacuum(kept.vacuum_unit)
  }
  const keep = useMutation({
    mutationFn: (body: WorkshopSettings) =>
      unwrap(api.PUT('/api/workshop-settings', { body: { ...body, was: before } })),
    onError: async (error) => {
      // Sent once more, it is meant to replace what is there now.
      if (!(error instanceof ProblemError) || error.status !== 409) return
      setBefore(await queryClient.fetchQuery({ ...workshopSettingsQuery, staleTime: 0 }))
    },
    onSuccess: async (kept) => {
      setBefore(kept)
      take(kept)
      queryClient.setQueryData(workshopSettingsQuery.queryKey, kept)
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
    },
  })
  const refused = keep.error instanceof ProblemError ? keep.error : undefined
  const faultOf = (typed: string, path: string, mayBeEmpty = false) => {
    const empty = typed.trim() === ''
    if (checked && (empty ? !mayBeEmpty : typedFigure(typed) === null)) return t`must be a number`
    return refused?.at(path)
  }
  const rest = restOf(keep.error, [
    ...Object.keys(before)
      .filter(hasField)
      .map((key) => `$.${key}`),
    ...Object.keys(setting).map((kind) => `$.set_minutes_per_valve.${kind}`),
  ])
  const needed = [check, camshafts, risk, margin, ...Object.values(setting)]

  function submit(event: FormEvent) {
    event.preventDefault()
    setChecked(true)
    const sound = needed.every((typed) => typedFigure(typed) !== null)
    const isFigure = (typed: string) => typed.trim() === '' || typedFigure(typed) !== null
    const { rate_per_hour: rate, tax_percent: tax, shim_price: shim } = money
    if (!sound || ![rate, tax, shim].every(isFigure)) return
    keep.mutate({
      rate_per_hour: typedFigure(rate),
      currency: money.currency.trim(),
      tax_percent: typedFigure(tax),
      shim_price: typedFigure(shim),
      check_minutes_per_valve: typedFigure(check) ?? 0,
      camshafts_out_minutes: typedFigure(camshafts) ?? 0,
      next_check_risk: (typedFigure(risk) ?? 0) / 100,
      next_check_margin_mm: typedFigure(margin) ?? 0,
      length_unit: lengths,
      pressure_unit: pressure,
      vacuum_unit: vacuum,
      set_minutes_per_valve: Object.fromEntries(
        Object.entries(setting).map(([kind, typed]) => [kind, typedFigure(typed) ?? 0]),
      ),
    })
  }

  return (
    <Sheet title={t`Labour rate, times and risk`}>
      <form onSubmit={submit} noValidate className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
        <MoneyFields
          typed={money}
          onChange={(to) => setMoney({ ...money, ...to })}
          faultOf={(key) =>
            key === 'currency' ? refused?.at('$.currency') : faultOf(money[key], `$.${key}`, true)
          }
        />
        <Field
          label={t`Checking a valve`}
          unit="min"
          inputMode="decimal"
          value={check}
          hint={t`including turning the crank`}
          onChange={(event) => setCheck(event.target.value)}
          fault={faultOf(check, '$.check_minutes_per_valve')}
        />
        <Field
          label={t`Removing and refitting camshafts`}
          unit="min"
          inputMode="decimal"
          value={camshafts}
          onChange={(event) => setCamshafts(event.target.value)}
          fault={faultOf(camshafts, '$.camshafts_out_minutes')}
        />
        <UnitFields
          typed={{ lengths, pressure, vacuum }}
          onLengths={setLengths}
          onPressure={setPressure}
          onVacuum={setVacuum}
        />
        <Field
          label={t`Next check at a risk of`}
          unit="%"
          inputMode="decimal"
          value={risk}
          hint={t`that any valve is out of spec; 1 to 50`}
          onChange={(event) => setRisk(event.target.value)}
          fault={faultOf(risk, '$.next_check_risk')}
        />
        <Field
          label={t`Out-of-spec margin`}
          unit={t`mm beyond the limit`}
          inputMode="decimal"
          value={margin}
          onChange={(event) => setMargin(event.target.value)}
          fault={faultOf(margin, '$.next_check_margin_mm')}
        />
        {Object.entries(setting).map(([kind, typed]) => (
          <Field
            key={kind}
            label={t`Adjusting one: ${adjustmentWords(kind)}`}
            unit="min"
            inputMode="decimal"
            value={typed}
            onChange={(event) => setSetting({ ...setting, [kind]: event.target.value })}
            fault={faultOf(typed, `$.set_minutes_per_valve.${kind}`)}
          />
        ))}
        <div className="col-span-2 flex items-center justify-end gap-4">
          {rest && <ErrorNotice error={rest} />}
          {keep.isSuccess && <span role="status">{t`saved`}</span>}
          <Button look="main" type="submit" disabled={keep.isPending}>
            {t`Save`}
          </Button>
        </div>
      </form>
    </Sheet>
  )
}
