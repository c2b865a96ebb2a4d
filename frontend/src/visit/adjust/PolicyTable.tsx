import type { SetStop, SettingChoice } from '@/api/client'
import { bladeFigure, type LengthUnit } from '@/design/format'

type Policy = SettingChoice['policy']

const WORDS: Record<Policy, { label: string; help: string }> = {
  figure: { label: "the manual's figure", help: 'the middle where it gives a range alone' },
  middle: { label: 'middle of the spec', help: 'as far from either limit' },
  'lean-loose': { label: 'exhausts looser', help: 'at two thirds, for they tighten' },
  'drift-aware': { label: 'to last longest', help: "by each valve's own drift" },
}

function lasts(policy: SetStop['policies'][number], interval: number, usageUnit: string): string {
  if (policy.first_out === null) return 'not foretold'
  if (policy.intervals === null) return 'over twenty intervals'
  const usage = Math.round(policy.intervals * interval)
  return `${usage} ${usageUnit}, then ${policy.first_out} first`
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
  policies: SetStop['policies']
  chosen: SettingChoice['policy'] | undefined
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
          <th className="px-3 py-1 font-normal">Set to</th>
          {valves.map((valve) => (
            <th key={valve} className="px-2 py-1 font-normal">
              {valve}
            </th>
          ))}
          <th className="px-2 py-1 font-normal">stays in spec, 90 % sure</th>
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
