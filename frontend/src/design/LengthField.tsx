import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { InputHTMLAttributes } from 'react'
import { Button } from './Button'
import { Field } from './Field'
import type { LengthUnit } from './format'
import { understoodLength } from './typedLength'

/** A clearance as it is typed, in any unit; where it could be more than one, it is asked which. */
export function LengthField({
  label,
  unit,
  value,
  fault,
  hint,
  onType,
  ...rest
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'value'> & {
  label: string
  unit: LengthUnit
  value: string
  fault?: string
  hint?: string
  onType: (text: string) => void
}) {
  const understood = understoodLength(value, unit)
  const note = understood.kind === 'length' ? understood.note : undefined
  return (
    <div className="flex min-w-0 flex-col gap-1">
      <Field
        label={label}
        unit={unit}
        value={value}
        fault={understood.kind === 'asked' ? undefined : fault}
        hint={note ?? hint}
        onChange={(event) => onType(event.target.value)}
        {...rest}
      />
      {understood.kind === 'asked' && (
        <div role="group" aria-label={t`What ${value} means`} className="flex flex-wrap gap-1.5">
          <span className="w-full text-sm text-loose">
            <Trans>{value.trim()}: which do you mean?</Trans>
          </span>
          {understood.readings.map((one) => (
            <Button
              key={one.text}
              className="min-h-11 px-2! text-sm"
              onClick={() => onType(one.text)}
            >
              {one.label}
            </Button>
          ))}
        </div>
      )}
    </div>
  )
}
