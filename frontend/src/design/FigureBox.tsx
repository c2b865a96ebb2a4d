import { useState } from 'react'
import { typedFigure } from './typedFigure'

/** A figure that is stored as it is left; give it a key of what is stored, so that this takes its place. */
export function FigureBox({
  label,
  stored,
  onChange,
  onKeep,
}: {
  label: string
  stored: number | null
  onChange: () => void
  onKeep: (value: number | null) => void
}) {
  const shown = stored === null ? '' : String(stored)
  const [typed, setTyped] = useState(shown)
  const value = typedFigure(typed)
  const isFigure = typed.trim() === '' || value !== null
  // Left as it was sent, it is not sent once more.
  const [sent, setSent] = useState(shown)

  function keep() {
    if (!isFigure || typed === sent) return
    setSent(typed)
    onKeep(value)
  }

  return (
    <>
      <input
        aria-label={label}
        aria-invalid={!isFigure}
        inputMode="decimal"
        value={typed}
        onChange={(event) => {
          onChange()
          setTyped(event.target.value)
        }}
        onBlur={keep}
        onKeyDown={(event) => event.key === 'Enter' && keep()}
        className="min-h-10 w-24 max-w-full rounded-card border border-rule-strong bg-paper px-2"
      />
      {!isFigure && <p className="text-tight">must be a number</p>}
    </>
  )
}
