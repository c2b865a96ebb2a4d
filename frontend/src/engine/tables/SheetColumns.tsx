import type { SheetRole, SheetSeen } from '@/api/client'

const ROLES: Record<SheetRole, string> = {
  valve: 'valve',
  cylinder: 'cylinder',
  side: 'intake or exhaust',
  date: 'date',
  usage: 'usage (running total)',
  visit: 'visit',
  phase: 'found or left',
  went: 'blade that went in',
  refused: 'blade that would not go',
  felt: 'how it felt',
  clearance: 'clearance, one figure',
  temperature: 'temperature',
  engine: 'engine',
}

/** Each column with the first thing in it, and what it is taken for. */
export function SheetColumns({
  seen,
  onChoose,
}: {
  seen: SheetSeen
  onChoose: (columns: Partial<Record<SheetRole, number>>) => void
}) {
  function take(index: number, role: string) {
    const kept = seen.columns.filter((one) => one.role && one.index !== index && one.role !== role)
    const columns = Object.fromEntries(kept.map((one) => [one.role, one.index]))
    onChoose(role ? { ...columns, [role]: index } : columns)
  }
  return (
    <ul aria-label="Columns" className="flex flex-wrap text-sm">
      {seen.columns.map((one) => (
        <li key={one.index} className="-mr-px -mb-px border border-rule p-2">
          <p className="font-semibold">{one.head || '(no head)'}</p>
          <p className="max-w-40 truncate text-ink-soft">{one.example || '–'}</p>
          <select
            aria-label={`Column ${one.head || one.index + 1} is`}
            value={one.role ?? ''}
            onChange={(event) => take(one.index, event.target.value)}
            className="mt-1 min-h-11 max-w-44 rounded-card border border-rule-strong bg-sheet px-1"
          >
            <option value="">not used</option>
            {(Object.keys(ROLES) as SheetRole[]).map((role) => (
              <option key={role} value={role}>
                {ROLES[role]}
              </option>
            ))}
          </select>
        </li>
      ))}
    </ul>
  )
}
