import { plural, t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { MeasuredValve, Phase, Valve } from '@/api/client'
import { sdText, type LengthUnit } from '@/design/format'
import { gapOf, gapText } from '@/head-plan/gap'

/** What else is to be known at this valve: who shares its rocker, and how it read before the crank was turned. */
export function ValveNotes({
  valve,
  measured,
  phase,
  unit,
}: {
  valve: Valve | undefined
  measured: MeasuredValve | undefined
  phase: Phase
  unit: LengthUnit
}) {
  const sharers = valve?.shares_rocker_with ?? []
  const earlier = measured?.[phase].earlier ?? []
  const technician = measured?.[phase].technician ?? null
  const byOthers = earlier.some((one) => one.technician !== technician)
  const swing = phase === 'found' ? measured?.swing : null
  if (sharers.length === 0 && earlier.length === 0) return null
  return (
    <ul className="mt-1 text-sm">
      {sharers.length > 0 && (
        <li>
          <Trans>
            <strong>{valve?.id}</strong> shares a rocker with {sharers.join(t` and `)}: measure one
            after the other, and take the first blade out before the second goes in.
          </Trans>
        </li>
      )}
      {byOthers && technician !== null && (
        <li>
          <Trans>The answers shown are by {technician}.</Trans>
        </li>
      )}
      {earlier.map((turn) => (
        <li key={`${turn.crank_turn} ${turn.technician}`}>
          {turn.technician !== null && turn.technician !== measured?.[phase].technician
            ? t`${turn.technician} read`
            : t`Before turn ${turn.crank_turn + 1} of the crank:`}{' '}
          {turn.estimate ? gapText(gapOf(turn.estimate), unit) : t`unknown`},{' '}
          {plural(turn.tries.length, { one: '# answer', other: '# answers' })}.
        </li>
      ))}
      {swing && (
        <li className={swing.swings ? 'font-semibold text-loose' : ''}>
          {swing.swings
            ? t`It changes by ${sdText(swing.at_least_mm, unit)} or more from one turn of the crank to the next: look for a bent pushrod or a worn cam.`
            : t`These readings show no change from turn to turn.`}
        </li>
      )}
    </ul>
  )
}
