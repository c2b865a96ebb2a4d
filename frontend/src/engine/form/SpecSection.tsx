import { t } from '@lingui/core/macro'
import { SelectField } from '@/design/SelectField'
import { ADJUSTMENTS } from '@/shared/adjustments'
import { FigureOf, InputOf, SpecFields, useEngineForm } from './fields'
import { withUnit, type EngineValues } from './draft'

/** Another unit of the form: what was typed keeps the unit that it was typed in, and says so. */
function inOtherUnit(values: EngineValues, unit: EngineValues['unit']): Partial<EngineValues> {
  return {
    unit,
    intake: withUnit(values.intake, values.unit),
    exhaust: withUnit(values.exhaust, values.unit),
    valves: values.valves.map((valve) => ({
      ...valve,
      spec: valve.spec && withUnit(valve.spec, values.unit),
    })),
  }
}

/** How the clearance is adjusted, and what the manual asks it to be. */
export function SpecSection({ isNew }: { isNew: boolean }) {
  const { values, change } = useEngineForm()
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
      <SelectField
        label={t`Adjusted by`}
        value={values.adjustment}
        choices={ADJUSTMENTS}
        onChange={(adjustment) => change({ adjustment })}
      />
      <SelectField
        label={t`The manual gives the clearance in`}
        value={values.unit}
        choices={[
          { id: 'mm', label: t`millimetres` },
          { id: 'thou', label: t`thou (thousandths of an inch)` },
        ]}
        onChange={(unit) => change(inOtherUnit(values, unit))}
      />
      <SpecFields
        title={t`Intake, cold`}
        name="intake"
        spec={values.intake}
        onChange={(intake) => change({ intake })}
      />
      <SpecFields
        title={t`Exhaust, cold`}
        name="exhaust"
        spec={values.exhaust}
        onChange={(exhaust) => change({ exhaust })}
      />
      <FigureOf
        name="figures.reference_temperature_c"
        label={t`Spec applies at`}
        unit="°C"
        hint={t`empty if the manual only says cold: 20 ± 6 °C is assumed`}
      />
      <FigureOf
        name="figures.check_below_temperature_c"
        label={t`Maximum temperature for a cold check`}
        unit="°C"
        hint={t`limit from the manual`}
      />
      {!isNew && (
        <InputOf
          name="specFrom"
          label={t`Changed spec valid from`}
          type="date"
          hint={t`empty: the earlier entry was wrong`}
        />
      )}
    </div>
  )
}
