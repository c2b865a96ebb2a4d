import { Link, useNavigate } from 'react-router'
import { engineAddress, measureAddress } from '@/api/addresses'
import type { Case, Diagnosis, Engine } from '@/api/client'
import { day } from '@/design/format'
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
          <Link to={engineAddress(engine.id)}>{engine.name ?? engine.id}</Link>, case {open.id},
          since {day(open.opened)}
          {open.closed && <>, closed {day(open.closed)}</>}
          {open.visit && (
            <>
              , readings from{' '}
              <Link to={measureAddress(engine.id, open.visit)}>visit {open.visit}</Link>
            </>
          )}
        </p>
        <DeleteButton
          label="Delete case"
          engineId={engine.id}
          kind="case"
          part={open.id}
          onDeleted={() => void navigate(engineAddress(engine.id))}
        />
      </div>
      {carried && (
        <p className="border-l-6 border-accent bg-sheet px-4 py-1">
          Nothing was measured for this case: clearances are projected from visit {carried.visit},{' '}
          {carried.days} days before it ({carried.intervals.toFixed(1)} check intervals). They allow
          for wear, not for anything that happened since: measuring again is among the tests.
        </p>
      )}
    </>
  )
}
