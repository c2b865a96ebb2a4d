import { useQuery } from '@tanstack/react-query'
import { kindsQuery } from '@/api/queries'
import { SelectField } from '@/design/SelectField'
import { FigureOf, InputOf, useEngineForm } from './fields'

/** What the engine is called, what it does, and how often it is checked. */
export function EngineSection({ isNew }: { isNew: boolean }) {
  const { values, change } = useEngineForm()
  const kinds = useQuery(kindsQuery)
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4 sm:grid-cols-3">
      <InputOf name="texts.name" label="Name" maxLength={200} autoFocus={isNew} />
      <InputOf name="texts.make" label="Make" maxLength={80} />
      <InputOf name="texts.model" label="Model" maxLength={80} />
      <InputOf name="texts.variant" label="Variant" maxLength={80} />
      <InputOf name="texts.serial_number" label="Serial number" maxLength={80} />
      <InputOf name="texts.plate" label="Plate or fleet number" maxLength={80} />
      <FigureOf name="figures.year" label="Year" />
      <FigureOf name="figures.displacement_cc" label="Displacement" unit="cc" />
      <InputOf
        name="texts.kind"
        label="Kind of engine"
        maxLength={200}
        list="kinds-of-engines"
        hint="empty: make and model. Those of one kind are compared"
      />
      <datalist id="kinds-of-engines">
        {kinds.data?.map((kind) => (
          <option key={kind} value={kind} />
        ))}
      </datalist>
      <InputOf name="texts.fuel" label="Fuel" maxLength={200} hint="petrol, diesel, gas …" />
      <InputOf name="texts.duty" label="Duty" maxLength={200} hint="its usual work" />
      <SelectField
        label="Usage counted in"
        value={values.usage_unit}
        choices={[
          { id: 'h', label: 'hours' },
          { id: 'km', label: 'kilometres' },
          { id: 'mi', label: 'miles' },
        ]}
        onChange={(usage_unit) => change({ usage_unit })}
      />
      <SelectField
        label="Starting"
        value={values.starting}
        choices={[
          { id: '', label: 'not known' },
          { id: 'electric', label: 'electric starter' },
          { id: 'rope', label: 'rope' },
          { id: 'kick', label: 'kick' },
          { id: 'hand-crank', label: 'hand crank' },
        ]}
        onChange={(starting) => change({ starting })}
      />
      <FigureOf name="figures.check_interval" label="Check every" unit={values.usage_unit} />
      <FigureOf
        name="figures.access_minutes"
        label="Access time"
        unit="min"
        hint="removing and refitting covers"
      />
    </div>
  )
}
