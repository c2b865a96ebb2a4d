import { t } from '@lingui/core/macro'
import { useId } from 'react'
import { get, useFormContext, useWatch, type Path } from 'react-hook-form'
import type { Engine } from '@/api/client'
import { Field } from '@/design/Field'
import { length } from '@/design/format'
import { LengthField } from '@/design/LengthField'
import { ASSUMED_TOLERANCE_MM, type EngineValues, type SpecDraft } from './draft'

/** The parts that the form is made of; each knows what was typed, how to change it, and its own faults. */

export function useEngineForm() {
  const { control, register, setValue, trigger, formState } = useFormContext<
    EngineValues,
    unknown,
    Engine
  >()
  const values = useWatch({ control }) as EngineValues
  return {
    values,
    register,
    /** Several fields at once. */
    change(part: Partial<EngineValues>) {
      for (const [name, value] of Object.entries(part)) {
        setValue(name as Path<EngineValues>, value, { shouldDirty: true })
      }
      if (formState.isSubmitted) void trigger()
    },
    /** What is wrong at a field, as the form or the server has it. */
    faultAt(name: string): string | undefined {
      return (get(formState.errors, name) as { message?: string } | undefined)?.message
    },
  }
}

/** An input for one text of the form. */
export function InputOf({
  name,
  ...shown
}: {
  name: Path<EngineValues>
  label: string
  unit?: string
  hint?: string
  type?: 'date'
  inputMode?: 'decimal'
  maxLength?: number
  list?: string
  autoFocus?: boolean
}) {
  const { register, faultAt } = useEngineForm()
  return <Field {...shown} {...register(name)} fault={faultAt(name)} />
}

/** An input for a number, in any way that numbers are typed. */
export function FigureOf(shown: {
  name: Path<EngineValues>
  label: string
  unit?: string
  hint?: string
}) {
  return <InputOf inputMode="decimal" {...shown} />
}

/** A range, or a single figure, as the manual prints it. */
export function SpecFields({
  title,
  name,
  spec,
  onChange,
}: {
  title: string
  /** Of the spec within the form. */
  name: string
  spec: SpecDraft
  onChange: (spec: SpecDraft) => void
}) {
  const { values, faultAt } = useEngineForm()
  const whole = faultAt(name)
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="text-sm font-semibold">{title}</legend>
      <div className="grid grid-cols-2 gap-3">
        <LengthField
          name={`${name}.min`}
          label={spec.single ? t`figure` : t`from`}
          unit={values.unit}
          value={spec.min}
          onType={(min) => onChange({ ...spec, min })}
          fault={faultAt(`${name}.min`)}
        />
        {spec.single ? (
          <LengthField
            name={`${name}.tolerance`}
            label={t`tolerance (±)`}
            unit={values.unit}
            value={spec.tolerance}
            hint={t`empty: ± ${length(ASSUMED_TOLERANCE_MM, values.unit)} is assumed`}
            onType={(tolerance) => onChange({ ...spec, tolerance })}
            fault={faultAt(`${name}.tolerance`)}
          />
        ) : (
          <LengthField
            name={`${name}.max`}
            label={t`to`}
            unit={values.unit}
            value={spec.max}
            onType={(max) => onChange({ ...spec, max })}
            fault={faultAt(`${name}.max`)}
          />
        )}
      </div>
      {whole && <p className="text-sm text-tight">{whole}</p>}
      <label className="flex min-h-9 items-center gap-2 text-sm">
        <input
          type="checkbox"
          className="size-5 accent-accent"
          checked={spec.single}
          onChange={(event) => onChange({ ...spec, single: event.target.checked })}
        />
        {t`a single figure, not a range`}
      </label>
    </fieldset>
  )
}

/** Several lines of one shape. */
export function LinesOf({
  name,
  label,
  what,
  placeholder,
}: {
  name: Path<EngineValues>
  label: string
  /** What a line is made of. */
  what: string
  placeholder: string
}) {
  const { register, faultAt } = useEngineForm()
  const id = useId()
  const fault = faultAt(name)
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="text-sm font-semibold">
        {label} <span className="font-normal text-ink-soft">({what})</span>
      </label>
      <textarea
        id={id}
        rows={3}
        placeholder={placeholder}
        aria-invalid={fault !== undefined}
        aria-describedby={fault ? `${id}-fault` : undefined}
        className="rounded-card border border-rule-strong bg-sheet px-3 py-2 placeholder:text-ink-soft"
        {...register(name)}
      />
      {fault && (
        <p id={`${id}-fault`} className="text-sm text-tight">
          {fault}
        </p>
      )}
    </div>
  )
}
