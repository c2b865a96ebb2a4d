import { useId } from 'react'

/** A short choice beside others in one line. */
export function Select({
  label,
  value,
  options,
  disabled,
  onChange,
}: {
  label: string
  value: string
  options: { id: string; words: string }[]
  disabled?: boolean
  onChange: (id: string) => void
}) {
  const id = useId()
  return (
    <div className="flex flex-col">
      <label htmlFor={id} className="text-sm text-ink-soft">
        {label}
      </label>
      <select
        id={id}
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(event.target.value)}
        className="min-h-11 rounded-card border border-rule-strong bg-sheet px-2"
      >
        {options.map((one) => (
          <option key={one.id} value={one.id}>
            {one.words}
          </option>
        ))}
      </select>
    </div>
  )
}
