import type { Finding, FindingKind, Valve } from '@/api/client'

type Adjustment = FindingKind['only_with_adjustment'][number]

/** The findings of an inspection that an engine of this adjustment can have. */
export function kindsFor(kinds: FindingKind[], adjustment: Adjustment): FindingKind[] {
  return kinds.filter(
    ({ group, only_with_adjustment: only, not_with_adjustment: not }) =>
      group === 'looking-in' &&
      (only.length === 0 || only.includes(adjustment)) &&
      !not.includes(adjustment),
  )
}

/** Findings have no valve of their own: a valve is its cylinder and its side. */
export function isAt(finding: Finding, valve: Valve): boolean {
  return finding.cylinder === valve.cylinder && finding.side === valve.side
}
