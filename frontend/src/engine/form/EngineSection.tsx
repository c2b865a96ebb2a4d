import { t } from '@lingui/core/macro'
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
      <InputOf name="texts.name" label={t`Name`} maxLength={200} autoFocus={isNew} />
      <InputOf name="texts.make" label={t`Make`} maxLength={80} />
      <InputOf name="texts.model" label={t`Model`} maxLength={80} />
      <InputOf name="texts.variant" label={t`Variant`} maxLength={80} />
      <InputOf name="texts.serial_number" label={t`Serial number`} maxLength={80} />
      <InputOf name="texts.plate" label={t`Plate or fleet number`} maxLength={80} />
      <FigureOf name="figures.year" label={t`Year`} />
      <FigureOf name="figures.displacement_cc" label={t`Displacement`} unit="cc" />
      <InputOf
        name="texts.kind"
        label={t`Kind of engine`}
        maxLength={200}
        list="kinds-of-engines"
        hint={t`empty: make and model. Those of one kind are compared`}
      />
      <datalist id="kinds-of-engines">
        {kinds.data?.map((kind) => (
          <option key={kind} value={kind} />
        ))}
      </datalist>
      <InputOf name="texts.fuel" label={t`Fuel`} maxLength={200} hint={t`petrol, diesel, gas …`} />
      <InputOf name="texts.duty" label={t`Duty`} maxLength={200} hint={t`its usual work`} />
      <SelectField
        label={t`Usage counted in`}
        value={values.usage_unit}
        choices={[
          { id: 'h', label: t`hours` },
          { id: 'km', label: t`kilometres` },
          { id: 'mi', label: t`miles` },
        ]}
        onChange={(usage_unit) => change({ usage_unit })}
      />
      <SelectField
        label={t`Starting`}
        value={values.starting}
        choices={[
          { id: '', label: t`not known` },
          { id: 'electric', label: t`electric starter` },
          { id: 'rope', label: t`rope` },
          { id: 'kick', label: t`kick` },
          { id: 'hand-crank', label: t`hand crank` },
        ]}
        onChange={(starting) => change({ starting })}
      />
      <FigureOf name="figures.check_interval" label={t`Check every`} unit={values.usage_unit} />
      <FigureOf
        name="figures.access_minutes"
        label={t`Access time`}
        unit="min"
        hint={t`removing and refitting covers`}
      />
    </div>
  )
}
