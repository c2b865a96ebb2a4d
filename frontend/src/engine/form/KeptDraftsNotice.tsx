import { useState } from 'react'
import { Button } from '@/design/Button'
import { moment } from '@/design/format'
import { forgetDraft, keptDrafts, type KeptDraft } from './keptDrafts'

/** Offers what was begun and not saved. */
export function KeptDraftsNotice({ onContinue }: { onContinue: (kept: KeptDraft) => void }) {
  // As they were when the page was opened: what is being typed now is none to be offered.
  const [drafts, setDrafts] = useState(keptDrafts)
  const without = (id: string) => setDrafts(drafts.filter((one) => one.id !== id))
  if (drafts.length === 0) return null
  return (
    <ul
      aria-label="Not finished"
      className="mx-auto mb-3 max-w-[1400px] border-l-6 border-accent bg-sheet px-4 py-1"
    >
      {drafts.map((one) => (
        <li key={one.id} className="flex flex-wrap items-center gap-x-3">
          <span>
            Not finished:{' '}
            <strong>{one.draft.values.texts.name || 'an engine without a name'}</strong>, last typed{' '}
            {moment(one.at)}
          </span>
          <Button
            look="quiet"
            onClick={() => {
              without(one.id)
              onContinue(one)
            }}
          >
            Continue
          </Button>
          <Button
            look="quiet"
            onClick={() => {
              without(one.id)
              forgetDraft(one.id)
            }}
          >
            Discard
          </Button>
        </li>
      ))}
    </ul>
  )
}
