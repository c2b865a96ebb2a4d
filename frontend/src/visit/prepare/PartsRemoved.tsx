import { t } from '@lingui/core/macro'
import { useRef, useState, type FormEvent } from 'react'
import type { Part, Visit } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useParts, useVisitNow } from '@/shared/visitQueries'

/** What came off and where it came from, ticked off as it goes back. */
export function PartsRemoved({ engineId, visit }: { engineId: string; visit: Visit }) {
  const keep = useParts(engineId, visit.id)
  const visitNow = useVisitNow(engineId, visit)
  const [what, setWhat] = useState('')
  const [from, setFrom] = useState('')
  const partField = useRef<HTMLInputElement>(null)
  const left = visit.parts.filter((part) => !part.back).length

  function store(change: (parts: Part[]) => Part[], onError?: () => void) {
    const was = visitNow().parts
    keep.mutate({ parts: change(was), was }, { onError })
  }

  function submit(event: FormEvent) {
    event.preventDefault()
    partField.current?.focus()
    if (!what.trim()) return
    setWhat('')
    setFrom('')
    // What could not be stored stands in its boxes again.
    const added = { what: what.trim(), came_from: from.trim(), back: false }
    store(
      (parts) => [...parts, added],
      () => {
        setWhat(what)
        setFrom(from)
      },
    )
  }

  return (
    <Sheet
      title={t`Parts removed`}
      aside={
        visit.parts.length > 0 && (
          <span className="text-sm text-ink-soft">
            {left === 0 ? t`all refitted` : t`${left} of ${visit.parts.length} not refitted yet`}
          </span>
        )
      }
    >
      {visit.parts.length > 0 && (
        <ul>
          {visit.parts.map((part, index) => (
            <li
              // Two parts may be alike; a part is its place in the list.
              key={index}
              className="flex items-center justify-between gap-3 border-b border-rule px-4"
            >
              <label className="flex min-h-11 flex-1 items-center gap-3">
                <input
                  type="checkbox"
                  className="size-5 accent-accent"
                  checked={part.back ?? false}
                  aria-label={t`${part.what} is refitted`}
                  onChange={() =>
                    store((parts) =>
                      parts.map((one, at) =>
                        at === index ? { ...one, back: !(one.back ?? false) } : one,
                      ),
                    )
                  }
                />
                <span className={part.back ? 'text-ink-soft line-through' : ''}>
                  <strong>{part.what}</strong>
                  {part.came_from && t`, from ${part.came_from}`}
                </span>
              </label>
              <Button
                look="quiet"
                aria-label={t`Remove ${part.what} from the list`}
                onClick={() => store((parts) => parts.filter((_, at) => at !== index))}
              >
                {t`remove`}
              </Button>
            </li>
          ))}
        </ul>
      )}
      <form onSubmit={submit} className="flex flex-wrap gap-2 p-3">
        <input
          ref={partField}
          aria-label={t`Part removed`}
          placeholder={t`part: four cover bolts, one long`}
          maxLength={120}
          value={what}
          onChange={(event) => setWhat(event.target.value)}
          className="min-h-11 min-w-40 flex-2 rounded-card border border-rule-strong bg-sheet px-3 placeholder:text-ink-soft"
        />
        <input
          aria-label={t`Location`}
          placeholder={t`location: long one at the front left`}
          maxLength={120}
          value={from}
          onChange={(event) => setFrom(event.target.value)}
          className="min-h-11 min-w-40 flex-2 rounded-card border border-rule-strong bg-sheet px-3 placeholder:text-ink-soft"
        />
        <Button type="submit">{t`Add part`}</Button>
      </form>
      {keep.error && <ErrorNotice error={keep.error} />}
    </Sheet>
  )
}
