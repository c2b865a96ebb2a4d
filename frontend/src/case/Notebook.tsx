import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { photographAddress } from '@/api/addresses'
import { newId, whenTaken, withoutSent, type NotebookEntry } from '@/api/client'
import { Button } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { day } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { pictureFault, PICTURE_TYPES } from '@/design/pictures'
import { Sheet } from '@/design/Sheet'
import { usePictureSource } from '@/shared/keptPicture'
import { notebookQuery, useAddEntry, useRemoveEntry } from './queries'

/** What was noted in words, and photographs; kept beside the database. */
export function Notebook({ engineId, caseId }: { engineId: string; caseId: string }) {
  const entries = useQuery(notebookQuery(engineId, caseId))
  const add = useAddEntry(engineId, caseId)
  const remove = useRemoveEntry(engineId, caseId)
  const [text, setText] = useState('')
  const [tooLarge, setTooLarge] = useState<Error>()
  const error = tooLarge ?? add.error ?? remove.error ?? entries.error

  function addPhotograph(photograph: File) {
    const large = pictureFault(photograph)
    setTooLarge(large)
    if (!large)
      add.mutate(
        { id: newId(), text, photograph },
        whenTaken(() => setText(withoutSent(text))),
      )
  }

  return (
    <Sheet title={t`Notes and photos`}>
      <ul>
        {entries.data?.map((one) => (
          <Entry
            key={one.id}
            one={one}
            address={photographAddress(engineId, caseId, one.id)}
            onRemove={() => remove.mutate(one.id)}
          />
        ))}
      </ul>
      <form
        className="flex flex-col gap-2 px-4 py-3"
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim() === '') return
          add.mutate(
            { id: newId(), text },
            whenTaken(() => setText(withoutSent(text))),
          )
        }}
      >
        <label className="flex flex-col gap-1 text-sm font-semibold">
          {t`A note, or a caption for a photo`}
          <textarea
            rows={2}
            value={text}
            onChange={(event) => setText(event.target.value)}
            className="rounded-card border border-rule-strong bg-sheet px-3 py-2 text-base font-normal"
          />
        </label>
        <div className="flex flex-wrap gap-2">
          <Button type="submit" disabled={text.trim() === '' || add.isPending}>
            {t`Add note`}
          </Button>
          <FileButton
            label={t`Photograph`}
            accept={PICTURE_TYPES}
            disabled={add.isPending}
            onFile={addPhotograph}
          >
            {t`Add photo`}
          </FileButton>
        </div>
      </form>
      {error && <ErrorNotice error={error} />}
    </Sheet>
  )
}

function Entry({
  one,
  address,
  onRemove,
}: {
  one: NotebookEntry
  address: string
  onRemove: () => void
}) {
  const source = usePictureSource(address)
  return (
    <li className="flex items-start gap-3 border-b border-rule px-4 py-2">
      {one.media_type !== null && (
        <a href={source} target="_blank" rel="noreferrer">
          <img
            src={source}
            alt={one.text || t`Photograph`}
            loading="lazy"
            className="h-24 w-32 border border-rule object-cover"
          />
        </a>
      )}
      <p className="min-w-0 flex-1">
        <span className="whitespace-pre-wrap">{one.text}</span>
        <span className="block text-sm text-ink-soft">{day(one.noted_at.slice(0, 10))}</span>
      </p>
      <Button
        look="quiet"
        className="px-2!"
        aria-label={t`Remove: ${one.text || t`the photo`}`}
        onClick={onRemove}
      >
        {t`remove`}
      </Button>
    </li>
  )
}
