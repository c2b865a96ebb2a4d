import { createContext, useContext, useId } from 'react'
import type { Fault } from '@/api/client'
import { Field } from '@/design/Field'
import { length } from '@/design/format'
import { LengthField } from '@/design/LengthField'
import {
  ASSUMED_TOLERANCE_MM,
  type EngineDraft,
  type FigureKey,
  type SpecDraft,
  type TextKey,
} from './draft'

/** The parts that the form is made of; each knows the draft, how to change it, and its own faults. */

type Form = {
  draft: EngineDraft
  change: (part: Partial<EngineDraft>) => void
  faults: Fault[]
}

export const FormContext = createContext<Form | null>(null)

export function useForm(): Form & { faultAt: (path: string) => string | undefined } {
  const form = useContext(FormContext)
  if (!form) throw new Error('no FormContext above')
  return { ...form, faultAt: (path) => form.faults.find((one) => one.path === path)?.message }
}

export function TextOf({
  name,
  label,
  hint,
  autoFocus,
}: {
  name: TextKey
  label: string
  hint?: string
  autoFocus?: boolean
}) {
  const { draft, change, faultAt } = useForm()
  return (
    <Field
      label={label}
      hint={hint}
      autoFocus={autoFocus}
      maxLength={200}
      value={draft.texts[name]}
      onChange={(event) => change({ texts: { ...draft.texts, [name]: event.target.value } })}
      fault={faultAt(`$.engine.${name}`)}
    />
  )
}

export function FigureOf({
  name,
  label,
  unit,
  hint,
}: {
  name: FigureKey
  label: string
  unit?: string
  hint?: string
}) {
  const { draft, change, faultAt } = useForm()
  return (
    <Field
      label={label}
      unit={unit}
      hint={hint}
      inputMode="decimal"
      value={draft.figures[name]}
      onChange={(event) => change({ figures: { ...draft.figures, [name]: event.target.value } })}
      fault={faultAt(`$.engine.${name}`)}
    />
  )
}

/** A range, or a single figure, as the manual prints it. */
export function SpecFields({
  title,
  path,
  spec,
  onChange,
}: {
  title: string
  path: string
  spec: SpecDraft
  onChange: (spec: SpecDraft) => void
}) {
  const { draft, faultAt } = useForm()
  const whole = faultAt(path)
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="text-sm font-semibold">{title}</legend>
      <div className="grid grid-cols-2 gap-3">
        <LengthField
          label={spec.single ? 'figure' : 'from'}
          unit={draft.unit}
          value={spec.min}
          onType={(min) => onChange({ ...spec, min })}
          fault={faultAt(`${path}.${spec.single ? 'figure_mm' : 'min_mm'}`)}
        />
        {spec.single ? (
          <LengthField
            label="tolerance (±)"
            unit={draft.unit}
            value={spec.tolerance}
            hint={`empty: ± ${length(ASSUMED_TOLERANCE_MM, draft.unit)} is assumed`}
            onType={(tolerance) => onChange({ ...spec, tolerance })}
            fault={faultAt(`${path}.tolerance`)}
          />
        ) : (
          <LengthField
            label="to"
            unit={draft.unit}
            value={spec.max}
            onType={(max) => onChange({ ...spec, max })}
            fault={faultAt(`${path}.max_mm`)}
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
        a single figure, not a range
      </label>
    </fieldset>
  )
}

/** Several lines of one shape. */
export function LinesField({
  label,
  what,
  value,
  placeholder,
  fault,
  onChange,
}: {
  label: string
  /** What a line is made of. */
  what: string
  value: string
  placeholder: string
  fault?: string
  onChange: (value: string) => void
}) {
  const id = useId()
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="text-sm font-semibold">
        {label} <span className="font-normal text-ink-soft">({what})</span>
      </label>
      <textarea
        id={id}
        rows={3}
        value={value}
        placeholder={placeholder}
        aria-invalid={fault !== undefined}
        aria-describedby={fault ? `${id}-fault` : undefined}
        onChange={(event) => onChange(event.target.value)}
        className="rounded-card border border-rule-strong bg-sheet px-3 py-2 placeholder:text-ink-soft"
      />
      {fault && (
        <p id={`${id}-fault`} className="text-sm text-tight">
          {fault}
        </p>
      )}
    </div>
  )
}
