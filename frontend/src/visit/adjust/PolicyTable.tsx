import { t } from '@lingui/core/macro'
import type { AdjustStep, AdjustmentChoice } from '@/api/client'
import { bladeFigure, type LengthUnit } from '@/design/format'

type Policy = AdjustmentChoice['policy']

const WORDS: Record<Policy, { label: string; help: string }> = {
  figure: { label: t`the manual's figure`, help: t`the middle if it gives only a range` },
  middle: { label: t`middle of the spec`, help: t`equally far from both limits` },
  'lean-loose': { label: t`loose side for exhaust`, help: t`at two thirds, because they tighten` },
  'drift-aware': { label: t`longest in spec`, help: t`from each valve’s own drift` },
}

function lasts(
  policy: AdjustStep['policies'][number],
  interval: number,
  usageUnit: string,
): string {
  if (policy.first_out === null) return t`no forecast`
  if (policy.intervals === null) return t`more than twenty intervals`
  const usage = Math.round(policy.intervals * interval)
  return t`${usage} ${usageUnit}, then ${policy.first_out} first`
}

/** The four policies side by side: what each aims at, and how long all stay in spec with it. */
export function PolicyTable({
  policies,
  chosen,
  valves,
  interval,
  usageUnit,
  unit,
  onChoose,
}: {
  policies: AdjustStep['policies']
  chosen: AdjustmentChoice['policy'] | undefined
  /** One intake and one exhaust to show the targets by. */
  valves: string[]
  interval: number
  usageUnit: string
  unit: LengthUnit
  onChoose: (policy: Policy) => void
}) {
  return (
    <table className="w-full border-collapse text-sm">
      <thead>
        <tr className="border-b border-ink text-left text-ink-soft">
          <th className="px-3 py-1 font-normal">{t`Adjust to`}</th>
          {valves.map((valve) => (
            <th key={valve} className="px-2 py-1 font-normal">
              {valve}
            </th>
          ))}
          <th className="px-2 py-1 font-normal">{t`stays in spec (90 %)`}</th>
        </tr>
      </thead>
      <tbody>
        {(Object.keys(WORDS) as Policy[]).map((id) => {
          const policy = policies.find((one) => one.policy === id)
          if (!policy) return null
          return (
            <tr key={id} className="border-b border-rule last:border-0">
              <td className="px-3 py-1">
                <label className="flex min-h-10 items-center gap-2">
                  <input
                    type="radio"
                    name="policy"
                    className="size-5 shrink-0 accent-accent"
                    checked={chosen === id}
                    onChange={() => onChoose(id)}
                  />
                  <span>
                    {WORDS[id].label}
                    <span className="block text-ink-soft">{WORDS[id].help}</span>
                  </span>
                </label>
              </td>
              {valves.map((valve) => (
                <td key={valve} className="px-2 py-1 whitespace-nowrap">
                  {policy.targets_mm[valve] === undefined
                    ? '–'
                    : `${bladeFigure(policy.targets_mm[valve], unit)} ${unit}`}
                </td>
              ))}
              <td className="px-2 py-1">{lasts(policy, interval, usageUnit)}</td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
