import { Field } from '@/design/Field'
import { SelectField } from '@/design/SelectField'
import { FigureOf, SpecFields, useForm } from './fields'
import { withUnit, type EngineDraft } from './draft'

const ADJUSTMENTS: { id: EngineDraft['adjustment']; label: string }[] = [
  { id: 'screw-rocker', label: 'screw in the rocker arm' },
  { id: 'screw-pushrod', label: 'screw at the pushrod' },
  { id: 'pivot-nut', label: 'nut on the rocker arm pivot' },
  { id: 'shim-under-bucket', label: 'shim under the bucket' },
  { id: 'shim-over-bucket', label: 'shim over the bucket' },
  { id: 'hydraulic', label: 'hydraulic' },
]

/** Another unit of the form: what was typed keeps the unit that it was typed in, and says so. */
function inOtherUnit(draft: EngineDraft, unit: EngineDraft['unit']): Partial<EngineDraft> {
  return {
    unit,
    intake: withUnit(draft.intake, draft.unit),
    exhaust: withUnit(draft.exhaust, draft.unit),
    valves: draft.valves.map((valve) => ({
      ...valve,
      spec: valve.spec && withUnit(valve.spec, draft.unit),
    })),
  }
}

/** How the clearance is adjusted, and what the manual asks it to be. */
export function SpecSection({ isNew }: { isNew: boolean }) {
  const { draft, change, faultAt } = useForm()
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
      <SelectField
        label="Adjusted by"
        value={draft.adjustment}
        choices={ADJUSTMENTS}
        onChange={(adjustment) => change({ adjustment })}
      />
      <SelectField
        label="The manual gives the clearance in"
        value={draft.unit}
        choices={[
          { id: 'mm', label: 'millimetres' },
          { id: 'thou', label: 'thou (thousandths of an inch)' },
        ]}
        onChange={(unit) => change(inOtherUnit(draft, unit))}
      />
      <SpecFields
        title="Intake, cold"
        path="$.engine.spec.intake"
        spec={draft.intake}
        onChange={(intake) => change({ intake })}
      />
      <SpecFields
        title="Exhaust, cold"
        path="$.engine.spec.exhaust"
        spec={draft.exhaust}
        onChange={(exhaust) => change({ exhaust })}
      />
      <FigureOf
        name="reference_temperature_c"
        label="Spec applies at"
        unit="°C"
        hint="empty if the manual only says cold: 20 ± 6 °C is assumed"
      />
      <FigureOf
        name="check_below_temperature_c"
        label="Maximum temperature for a cold check"
        unit="°C"
        hint="limit from the manual"
      />
      {!isNew && (
        <Field
          label="Changed spec valid from"
          type="date"
          value={draft.specFrom}
          hint="empty: the earlier entry was wrong"
          onChange={(event) => change({ specFrom: event.target.value })}
          fault={faultAt('$.engine.spec_changes')}
        />
      )}
    </div>
  )
}
