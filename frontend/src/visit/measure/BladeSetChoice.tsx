import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
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
  if (!sets)
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the feeler gauge sets`} />
  return (
    <div className="mx-auto flex max-w-3xl flex-col gap-4">
      {use.error && <ErrorNotice error={use.error} />}
      <Sheet
        title={t`Which feeler gauge set?`}
        aside={
          inUse ? (
            <Button look="quiet" onClick={onDone}>
              <Trans>keep {inUse.name}</Trans>
            </Button>
          ) : (
            <Link to={BENCH_ADDRESS}>{t`edit the sets`}</Link>
          )
        }
      >
        {sets.length === 0 ? (
          <p className="p-4 text-ink-soft">{t`No set yet: type one below, on one line.`}</p>
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
                  aria-label={t`Measure with ${set.name}`}
                >
                  {t`Measure with this set`}
                </Button>
              </li>
            ))}
          </ul>
        )}
      </Sheet>
      <Sheet title={t`New set`}>
        <BladeSetForm submitText={t`Save and measure with it`} onKept={(kept) => take(kept.id)} />
      </Sheet>
    </div>
  )
}
