import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
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
      aria-label={t`Not finished`}
      className="mx-auto mb-3 max-w-[1400px] border-l-6 border-accent bg-sheet px-4 py-1"
    >
      {drafts.map((one) => (
        <li key={one.id} className="flex flex-wrap items-center gap-x-3">
          <span>
            {t`Not finished:`}{' '}
            <strong>{one.draft.values.texts.name || t`an engine without a name`}</strong>
            <Trans>, last typed {moment(one.at)}</Trans>
          </span>
          <Button
            look="quiet"
            onClick={() => {
              without(one.id)
              onContinue(one)
            }}
          >
            {t`Continue`}
          </Button>
          <Button
            look="quiet"
            onClick={() => {
              without(one.id)
              forgetDraft(one.id)
            }}
          >
            {t`Discard`}
          </Button>
        </li>
      ))}
    </ul>
  )
}
