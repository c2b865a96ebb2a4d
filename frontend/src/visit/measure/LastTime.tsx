import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Link } from 'react-router'
import { valveAddress } from '@/api/addresses'
import type { Analysis, Visit } from '@/api/client'
import { day, usage } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { gapOf, gapText } from '@/head-plan/gap'

/** What the visit before knew of this valve, and the way to its whole history. */
export function LastTime({
  analysis,
  valve,
  visit,
  engineId,
}: {
  analysis: Analysis
  valve: string
  visit: Visit
  engineId: string
}) {
  const { unit } = usePreferences()
  const history = analysis.valves.find((one) => one.valve === valve)?.history ?? []
  const here = history.findIndex((state) => state.visit === visit.id)
  const before = history
    .slice(0, here < 0 ? history.length : here)
    .filter((state) => state.found ?? state.left)
    .at(-1)
  const estimate = before?.left ?? before?.found
  return (
    <p className="mt-2 flex flex-wrap justify-between gap-x-6 border-t border-rule pt-2">
      <span>
        {before && estimate
          ? t`Last time ${valve} was ${before.left ? t`left` : t`found`} at ${gapText(gapOf(estimate), unit)}: visit ${before.visit}, ${day(before.date)}, ${usage(before.usage, analysis.usage_unit)}.`
          : t`${valve} has no earlier reading.`}
      </span>
      <Link to={valveAddress(engineId, valve)}>
        <Trans>History of {valve} and forecast</Trans>
      </Link>
    </p>
  )
}
