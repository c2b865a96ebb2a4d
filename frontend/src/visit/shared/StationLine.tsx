import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Link } from 'react-router'
import { positionAddress } from '@/api/addresses'
import type { CrankPlan } from '@/api/client'

export type Station = CrankPlan['stations'][number]

export function stationOf(plan: CrankPlan | undefined, valve: string): Station | undefined {
  return plan?.stations.find((station) => station.valves.includes(valve))
}

/** How far to go past top for a compression release; on its bump a valve would be measured open. */
export function pastTopWords(past: NonNullable<CrankPlan['past_top']>): string {
  return t`Compression release: at each position go ${Math.round(past.crank_deg)} degrees past TDC, ${past.travel_mm} mm of piston travel, so that it has released.`
}

/** Where the crank has to stand for the valve available. */
export function StationLine({
  plan,
  station,
  engineId,
  visitId,
  cautions,
}: {
  plan: CrankPlan | undefined
  station: Station | undefined
  engineId: string
  visitId: string
  /** What can hurt someone here. */
  cautions: string[]
}) {
  const address = positionAddress(engineId, visitId)
  if (!plan || !station) {
    return (
      <p className="mb-1 text-ink-soft">
        <Trans>
          The crank positions cannot be calculated: <Link to={address}>see why</Link>.
        </Trans>
      </p>
    )
  }
  const index = plan.stations.indexOf(station)
  const on = plan.turns_between_deg[index - 1]
  return (
    <p className="mb-1">
      <Link to={address}>
        <Trans>
          Crank {index + 1} of {plan.stations.length}
        </Trans>
      </Link>
      {': '}
      <strong>{station.mark}</strong>
      {on !== undefined && t`, ${Math.round(on * 10) / 10} degrees after the previous one`}
      {plan.past_top && <span className="block text-sm">{pastTopWords(plan.past_top)}</span>}
      <span className="block text-sm text-loose">{cautions.join(' ')}</span>
    </p>
  )
}
