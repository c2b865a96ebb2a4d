import { useId } from 'react'

/** A labelled choice of one of a few. */
export function SelectField<Value extends string>({
  label,
  hint,
  value,
  choices,
  disabled,
  onChange,
}: {
  label: string
  hint?: string
  value: Value
  /** With their labels, or as they are. */
  choices: readonly Value[] | { id: Value; label: string }[]
  disabled?: boolean
  onChange: (value: Value) => void
}) {
  const id = useId()
  const options = choices.map((one) => (typeof one === 'string' ? { id: one, label: one } : one))
  return (
    <div className="flex min-w-0 flex-col gap-1">
      <label htmlFor={id} className="text-sm font-semibold">
        {label}
      </label>
      <select
        id={id}
        value={value}
        disabled={disabled}
        aria-describedby={hint ? `${id}-hint` : undefined}
        onChange={(event) => onChange(event.target.value as Value)}
        className="min-h-11 w-full min-w-0 rounded-card border border-rule-strong bg-sheet px-3 py-2"
      >
        {options.map((one) => (
          <option key={one.id} value={one.id}>
            {one.label}
          </option>
        ))}
      </select>
      {hint && (
        <p id={`${id}-hint`} className="text-sm text-ink-soft">
          {hint}
        </p>
      )}
    </div>
  )
}
