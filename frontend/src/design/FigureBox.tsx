import { t } from '@lingui/core/macro'
import { useState } from 'react'
import { typedFigure } from './typedFigure'

/** What stands in the box as it was typed. `was`: what was stored when typing began; `sent`: on its way. */
type Draft = { text: string; was: number | null; sent: boolean }

/**
 * A figure that is stored as it is left. What somebody else stores meanwhile never takes the place of what is
 * being typed here: the server is told what stood there before, and says if that is no longer so.
 */
export function FigureBox({
  label,
  stored,
  shown = stored,
  kept,
  onChange,
  onKeep,
}: {
  label: string
  stored: number | null
  /** The same in the unit of the page. */
  shown?: number | null
  /** Counts what was stored: with each, what was sent from here gives way to it. */
  kept: number
  onChange: () => void
  onKeep: (value: number | null, was: number | null) => void
}) {
  const [draft, setDraft] = useState<Draft>()
  const [seen, setSeen] = useState(kept)
  if (kept !== seen) {
    setSeen(kept)
    if (draft?.sent) setDraft(undefined)
  }
  const storedText = shown === null ? '' : String(shown)
  const typed = draft?.text ?? storedText
  const value = typedFigure(typed)
  const isFigure = typed.trim() === '' || value !== null

  function keep(again: boolean) {
    if (!draft || !isFigure) return
    if (draft.text === storedText) {
      setDraft(undefined)
      return
    }
    // Left as it was sent, it is not sent once more; sent again on purpose, it is meant to replace what is there now.
    if (draft.sent && !again) return
    setDraft({ ...draft, sent: true })
    onKeep(value, draft.sent ? stored : draft.was)
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
          // After a refusal what stands there now has been seen.
          const was = draft && !draft.sent ? draft.was : stored
          setDraft({ text: event.target.value, was, sent: false })
        }}
        onBlur={() => keep(false)}
        onKeyDown={(event) => event.key === 'Enter' && keep(true)}
        className="min-h-10 w-24 max-w-full rounded-card border border-rule-strong bg-paper px-2"
      />
      {!isFigure && <p className="text-tight">{t`must be a number`}</p>}
    </>
  )
}
