import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { BENCH_ADDRESS } from '@/api/addresses'
import type { BladeSet } from '@/api/client'
import { bladeSetsQuery } from '@/api/queries'
import { BladeSetForm } from '@/blades/BladeSetForm'
import { BladeSetGaps, BladeSetRange } from '@/blades/BladeSetFacts'
import { Button } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { useBladeSet } from '@/shared/visitQueries'

/** Which of the workshop's sets is available, with its gaps against this engine's spec; or a new one. */
export function BladeSetChoice({
  engineId,
  visitId,
  inUse,
  onDone,
}: {
  engineId: string
  visitId: string
  inUse: BladeSet | null
  onDone: () => void
}) {
  const { unit } = usePreferences()
  const { data: sets, error } = useQuery(bladeSetsQuery(engineId))
  const use = useBladeSet(engineId, visitId)
  const take = (id: string) => use.mutate(id, { onSuccess: onDone })
  if (!sets) return error ? <ErrorNotice error={error} /> : <Loading what="the feeler gauge sets" />
  return (
    <div className="mx-auto flex max-w-3xl flex-col gap-4">
      {use.error && <ErrorNotice error={use.error} />}
      <Sheet
        title="Which feeler gauge set?"
        aside={
          inUse ? (
            <Button look="quiet" onClick={onDone}>
              keep {inUse.name}
            </Button>
          ) : (
            <Link to={BENCH_ADDRESS}>edit the sets</Link>
          )
        }
      >
        {sets.length === 0 ? (
          <p className="p-4 text-ink-soft">No set yet: type one below, on one line.</p>
        ) : (
          <ul>
            {sets.map((set) => (
              <li
                key={set.id}
                className="flex items-start justify-between gap-4 border-b border-rule px-4 py-2 last:border-0"
              >
                <div>
                  <strong>{set.name}</strong> <BladeSetRange set={set} unit={unit} />
                  <BladeSetGaps set={set} unit={unit} />
                </div>
                <Button
                  look={set.id === inUse?.id ? 'main' : 'plain'}
                  className="min-h-12 shrink-0"
                  onClick={() => take(set.id)}
                  aria-label={`Measure with ${set.name}`}
                >
                  Measure with this set
                </Button>
              </li>
            ))}
          </ul>
        )}
      </Sheet>
      <Sheet title="New set">
        <BladeSetForm submitText="Save and measure with it" onKept={(kept) => take(kept.id)} />
      </Sheet>
    </div>
  )
}
