import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Link, useNavigate } from 'react-router'
import { engineAddress, measureAddress } from '@/api/addresses'
import type { Case, Diagnosis, Engine } from '@/api/client'
import { day, fixed } from '@/design/format'
import { DeleteButton } from '@/shared/DeleteButton'

/** What the case is called, of which engine and visit, and what it rests on where nothing was measured for it. */
export function CaseHeading({
  engine,
  open,
  title,
  carried,
}: {
  engine: Engine
  open: Case
  title: string
  carried: Diagnosis['carried']
}) {
  const navigate = useNavigate()
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1>{title}</h1>
        <p>
          <Trans>
            <Link to={engineAddress(engine.id)}>{engine.name ?? engine.id}</Link>, case {open.id},
            since {day(open.opened)}
          </Trans>
          {open.closed && (
            <>
              <Trans>, closed {day(open.closed)}</Trans>
            </>
          )}
          {open.visit && (
            <>
              <Trans>
                , readings from{' '}
                <Link to={measureAddress(engine.id, open.visit)}>visit {open.visit}</Link>
              </Trans>
            </>
          )}
        </p>
        <DeleteButton
          label={t`Delete case`}
          engineId={engine.id}
          kind="case"
          part={open.id}
          onDeleted={() => void navigate(engineAddress(engine.id))}
        />
      </div>
      {carried && (
        <p className="border-l-6 border-accent bg-sheet px-4 py-1">
          <Trans>
            Nothing was measured for this case: clearances are projected from visit {carried.visit},{' '}
            {carried.days} days before it ({fixed(carried.intervals, 1)} check intervals). They
            allow for wear, not for anything that happened since: measuring again is among the
            tests.
          </Trans>
        </p>
      )}
    </>
  )
}
