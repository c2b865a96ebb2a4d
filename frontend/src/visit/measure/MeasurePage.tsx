import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { stepAddress } from '@/api/addresses'
import { analysisQuery } from '@/api/queries'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { BladeSetChoice } from './BladeSetChoice'
import { Measuring } from './Measuring'
import { crankQuery } from '@/shared/visitQueries'
import { useVisit } from '@/visit/shared/useVisit'
import { isHydraulic, StepLine } from '@/visit/shared/StepLine'

export function MeasurePage() {
  const { engineId, visitId, detail, visit, error: noVisit } = useVisit()
  const analysis = useQuery(analysisQuery(engineId))
  const [choosing, setChoosing] = useState(false)
  const crank = useQuery({ ...crankQuery(engineId, visit?.school), enabled: visit !== undefined })
  const error = noVisit ?? analysis.error
  // An engine whose crank positions cannot be told is measured all the same, in its own order.
  if (!detail || !visit || !analysis.data || crank.isPending) {
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the visit`} />
  }
  return (
    <div className="mx-auto max-w-[1400px]">
      <StepLine engine={detail.engine} visit={visit} at="measure" />
      {isHydraulic(detail.engine) ? (
        <Empty>
          <Trans>
            Hydraulic lifters have no clearance to measure: their preload is adjusted from zero
            lash,{' '}
            <Link to={stepAddress(engineId, visitId, 'adjust')}>
              position by position at Adjust
            </Link>
            .
          </Trans>
        </Empty>
      ) : !visit.blade_set || choosing ? (
        <BladeSetChoice
          engineId={engineId}
          visitId={visitId}
          inUse={visit.blade_set}
          onDone={() => setChoosing(false)}
        />
      ) : (
        <Measuring
          key={`${engineId} ${visitId}`}
          detail={detail}
          analysis={analysis.data}
          visit={visit}
          plan={crank.data}
          bladeSet={visit.blade_set}
          onOtherBlades={() => setChoosing(true)}
        />
      )}
    </div>
  )
}
