import { useId, type InputHTMLAttributes } from 'react'

/** A labelled input with its unit beside it and its fault under it. */
export function Field({
  label,
  unit,
  fault,
  hint,
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & {
  label: string
  unit?: string
  fault?: string
  hint?: string
}) {
  const id = useId()
  const describedBy = fault ? `${id}-fault` : hint ? `${id}-hint` : undefined
  return (
    <div className="flex min-w-0 flex-col gap-1">
      <label htmlFor={id} className="text-sm font-semibold">
        {label}
        {unit && <span className="font-normal text-ink-soft"> ({unit})</span>}
      </label>
      <input
        id={id}
        aria-invalid={fault !== undefined}
        aria-describedby={describedBy}
        className="min-h-11 w-full min-w-0 rounded-card border border-rule-strong bg-sheet px-3 py-2"
        {...rest}
      />
      {fault ? (
        <p id={`${id}-fault`} className="text-sm text-tight">
          {fault}
        </p>
      ) : (
        hint && (
          <p id={`${id}-hint`} className="text-sm text-ink-soft">
            {hint}
          </p>
        )
      )}
    </div>
  )
}
