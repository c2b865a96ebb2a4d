import { t } from '@lingui/core/macro'
import type { SheetRole, SheetSeen, SheetValveRole } from '@/api/client'
import type { Chosen, ValveColumn } from './queries'

const ROLES: Record<SheetRole, string> = {
  valve: t`valve`,
  cylinder: t`cylinder`,
  side: t`intake or exhaust`,
  date: t`date`,
  usage: t`usage (running total)`,
  visit: t`visit`,
  phase: t`found or left`,
  went: t`blade that went in`,
  refused: t`blade that would not go`,
  felt: t`how it felt`,
  clearance: t`clearance as found`,
  left: t`clearance as left`,
  target: t`set to`,
  shim_before: t`shim found`,
  shim: t`shim fitted`,
  temperature: t`temperature`,
  engine: t`engine`,
}
const OF_A_VALVE: SheetValveRole[] = [
  'clearance',
  'left',
  'went',
  'refused',
  'target',
  'shim_before',
  'shim',
]

/** Each column with the first thing in it, and what it is taken for. */
export function SheetColumns({
  seen,
  valves,
  onChoose,
}: {
  seen: SheetSeen
  /** The engine's valves: a column may be one of them. */
  valves: string[]
  onChoose: (change: Chosen) => void
}) {
  function take(index: number, choice: string) {
    const [role, valve] = choice.split(' of ')
    const others = seen.columns.filter((one) => one.role && one.index !== index)
    const columns = Object.fromEntries(
      others.filter((one) => !one.valve && one.role !== choice).map((one) => [one.role, one.index]),
    )
    const valveColumns = others.flatMap((one): ValveColumn[] =>
      one.valve ? [{ index: one.index, what: one.role as SheetValveRole, valve: one.valve }] : [],
    )
    if (valve !== undefined) {
      valveColumns.push({ index, what: role as SheetValveRole, valve })
      onChoose({ columns, valveColumns })
    } else {
      onChoose({ columns: choice ? { ...columns, [choice]: index } : columns, valveColumns })
    }
  }
  return (
    <>
      {seen.remembered && (
        <p className="text-sm text-ink-soft">
          {t`The columns are as they were when a sheet with these heads was imported last.`}
        </p>
      )}
      <ul aria-label={t`Columns`} className="flex flex-wrap text-sm">
        {seen.columns.map((one) => (
          <li key={one.index} className="-mr-px -mb-px border border-rule p-2">
            <p className="font-semibold">{one.head || t`(no head)`}</p>
            <p className="max-w-40 truncate text-ink-soft">{one.example || '–'}</p>
            <select
              aria-label={t`Column ${one.head || one.index + 1} is`}
              value={one.valve ? `${one.role} of ${one.valve}` : (one.role ?? '')}
              onChange={(event) => take(one.index, event.target.value)}
              className="mt-1 min-h-11 max-w-44 rounded-card border border-rule-strong bg-sheet px-1"
            >
              <option value="">{t`not used`}</option>
              {(Object.keys(ROLES) as SheetRole[]).map((role) => (
                <option key={role} value={role}>
                  {ROLES[role]}
                </option>
              ))}
              {valves.map((valve) => (
                <optgroup key={valve} label={t`valve ${valve}`}>
                  {OF_A_VALVE.map((role) => (
                    <option key={role} value={`${role} of ${valve}`}>
                      {valve}: {ROLES[role]}
                    </option>
                  ))}
                </optgroup>
              ))}
            </select>
          </li>
        ))}
      </ul>
    </>
  )
}
