import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useNavigate } from 'react-router'
import { measureAddress } from '@/api/addresses'
import type { CrankPosition } from '@/api/client'
import { Button } from '@/design/Button'
import { chance } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { usePosition } from '@/visit/shared/assessmentQueries'

/** Positions of the crank that look one turn off: what that means, and what to do before anything is set. */
export function PositionAlert({
  engineId,
  visitId,
  positions,
}: {
  engineId: string
  visitId: string
  positions: CrankPosition[]
}) {
  const position = usePosition(engineId, visitId)
  const navigate = useNavigate()
  const suspect = positions.filter((one) => one.suspect)
  if (suspect.length === 0 && !position.error) return null
  return (
    <div role="alert" className="mb-2 border-2 border-loose bg-sheet px-4 py-2">
      {suspect.map(({ valves, p_one_turn_off }) => (
        <div key={valves.join(' ')} className="flex flex-wrap items-center gap-x-4 gap-y-1">
          <p className="min-w-72 flex-1">
            <Trans>
              <strong className="text-loose">
                {valves.join(' ')}: the crank may be one turn off ({chance(p_one_turn_off)}).
              </strong>{' '}
              With a valve open no blade goes in, whatever the clearance: turn the crank one full
              turn in the direction of rotation. Until they are re-measured these readings are not
              used.
            </Trans>
          </p>
          <div className="flex flex-wrap gap-2">
            <Button
              className="min-h-12"
              disabled={position.isPending}
              onClick={() =>
                position.mutate(
                  { valves, action: 'read-again' },
                  { onSuccess: () => void navigate(measureAddress(engineId, visitId, valves[0])) },
                )
              }
            >
              {t`Turned: re-measure`}
            </Button>
            <Button
              look="quiet"
              className="min-h-12"
              disabled={position.isPending}
              onClick={() => position.mutate({ valves, action: 'confirm' })}
            >
              {t`Position was correct`}
            </Button>
          </div>
        </div>
      ))}
      {position.error && <ErrorNotice error={position.error} />}
    </div>
  )
}
