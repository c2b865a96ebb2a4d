import { t } from '@lingui/core/macro'
import { useState } from 'react'
import type { Engine, FindingKind, FirstLook, Visit } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { hasWhatIsLookedAt } from '@/shared/fuel'
import { useNoteQuickCheck } from '@/visit/shared/findingQueries'

/** What is quicker to look at than a valve, for the complaints available: ticked off with what was seen. */
export function QuickChecks({
  engine,
  visit,
  present,
}: {
  engine: Engine
  visit: Visit
  present: FindingKind[]
}) {
  const checks = new Map(
    present
      .flatMap((kind) => kind.first_looks)
      .filter((look) => hasWhatIsLookedAt(engine, look))
      .map((look) => [look.id, look]),
  )
  const sorted = [...checks.values()].sort((a, b) => a.minutes - b.minutes)
  const open = sorted.filter((look) => visit.quick_checks[look.id] === undefined)
  const minutes = open.reduce((sum, look) => sum + look.minutes, 0)
  return (
    <Sheet
      title={t`Quick checks first`}
      aside={
        sorted.length > 0 && (
          <span className="text-sm text-ink-soft">
            {open.length === 0 ? t`all done` : t`still to do: ${minutes} minutes`}
          </span>
        )
      }
    >
      {sorted.length === 0 ? (
        <p className="p-4 text-ink-soft">
          {t`Once a complaint is entered, checks that are quicker than a valve check are listed here.`}
        </p>
      ) : (
        <ol>
          {sorted.map((look) => (
            <Check key={look.id} engineId={engine.id} visit={visit} look={look} />
          ))}
        </ol>
      )}
    </Sheet>
  )
}

function Check({ engineId, visit, look }: { engineId: string; visit: Visit; look: FirstLook }) {
  const note = useNoteQuickCheck(engineId, visit.id)
  const known = visit.quick_checks[look.id]
  const was = { done: known !== undefined, seen: known?.seen ?? '' }
  const [typed, setTyped] = useState<string>()
  const seen = typed ?? was.seen

  function keep() {
    if (typed === undefined) return
    if (typed.trim() !== was.seen) note.mutate({ id: look.id, done: true, seen: typed.trim(), was })
    setTyped(undefined)
  }

  return (
    <li className="border-b border-rule px-4 py-1.5 last:border-0">
      <label className="flex min-h-11 items-start gap-3 py-1">
        <input
          type="checkbox"
          className="mt-0.5 size-5 shrink-0 accent-accent"
          checked={was.done}
          onChange={(event) =>
            note.mutate({
              id: look.id,
              done: event.target.checked,
              seen: event.target.checked ? seen.trim() : '',
              was,
            })
          }
        />
        <span className="w-12 shrink-0 text-right font-semibold">{look.minutes} min</span>
        <span>
          <strong>{look.label}</strong>: {look.what}
        </span>
      </label>
      <input
        aria-label={t`What was seen: ${look.label}`}
        placeholder={t`what was seen`}
        maxLength={300}
        value={seen}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === 'Enter' && keep()}
        className="mb-1 ml-8 min-h-10 w-[calc(100%-2rem)] rounded-card border border-rule bg-paper px-2 placeholder:text-ink-soft"
      />
      {note.error && <ErrorNotice error={note.error} />}
    </li>
  )
}
