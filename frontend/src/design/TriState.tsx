import { t } from '@lingui/core/macro'
import type { ReactNode } from 'react'

export type State = 'present' | 'absent' | 'unknown'

const STATES: { state: State; word: string }[] = [
  { state: 'present', word: t`yes` },
  { state: 'absent', word: t`no` },
  { state: 'unknown', word: '?' },
]
const SPOKEN: Record<State, string> = { present: t`yes`, absent: t`no`, unknown: t`not asked` }

/** Yes, no, or not asked: one row, answered by a finger or by the arrow keys. */
export function TriState({
  name,
  label,
  help,
  state,
  onChange,
  showHelp = false,
  children,
}: {
  /** Tells this row's answers from those of the others. */
  name: string
  label: string
  help: string
  state: State
  onChange: (state: State) => void
  /** Whether how to tell stands under the label, and not only on hovering. */
  showHelp?: boolean
  children?: ReactNode
}) {
  return (
    <li className="border-b border-rule px-4 py-1 last:border-0">
      <fieldset className="flex items-center justify-between gap-2" title={help}>
        <legend className="sr-only">{label}</legend>
        <span aria-hidden="true" className={state === 'present' ? 'font-semibold' : ''}>
          {label}
          {showHelp && (
            <span className="block text-sm leading-tight font-normal text-ink-soft">{help}</span>
          )}
        </span>
        <span className="flex">
          {STATES.map((one) => (
            <label
              key={one.state}
              className={`flex min-h-10 min-w-10 cursor-pointer items-center justify-center border border-rule px-1.5 has-focus-visible:outline-3 has-focus-visible:outline-accent ${
                state !== one.state
                  ? 'bg-sheet text-ink-soft'
                  : one.state === 'unknown'
                    ? 'bg-rule font-semibold'
                    : 'bg-ink font-semibold text-paper'
              }`}
            >
              <input
                type="radio"
                className="sr-only"
                name={name}
                checked={state === one.state}
                onChange={() => onChange(one.state)}
                aria-label={SPOKEN[one.state]}
              />
              <span aria-hidden="true">{one.word}</span>
            </label>
          ))}
        </span>
      </fieldset>
      {children}
    </li>
  )
}
