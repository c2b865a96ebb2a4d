import { t } from '@lingui/core/macro'
import type { UseFormRegister } from 'react-hook-form'
import { Field } from '@/design/Field'
import type { NewVisitValues } from './useNewVisit'

/** The meter shows less than it did: it was replaced, or rolled over. */
export function NewMeter({
  isNew,
  unit,
  register,
  faultAt,
}: {
  isNew: boolean
  unit: string
  register: UseFormRegister<NewVisitValues>
  faultAt: (name: keyof NewVisitValues) => string | undefined
}) {
  return (
    <div className="col-span-2 grid grid-cols-2 gap-x-4 gap-y-2">
      <label className="col-span-2 flex min-h-8 items-center gap-2">
        <input type="checkbox" className="size-5 accent-accent" {...register('newMeter')} />
        {t`The meter was replaced, or rolled over`}
      </label>
      {isNew && (
        <>
          <Field
            label={t`Last reading of the old meter`}
            unit={unit}
            inputMode="decimal"
            {...register('oldMeter')}
            fault={faultAt('oldMeter')}
          />
          <Field
            label={t`First reading of the new meter`}
            unit={unit}
            inputMode="decimal"
            {...register('newMeterFrom')}
            fault={faultAt('newMeterFrom')}
          />
        </>
      )}
    </div>
  )
}
