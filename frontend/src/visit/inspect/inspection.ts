import type { Finding, FindingKind, Valve } from '@/api/client'

/** What is found on looking in, and where on the engine each of it can be. */

/** Findings of the oil are of the whole engine; all others are of one valve. */
const OF_THE_ENGINE = new Set(['copper-flakes', 'iron-filings'])

/** Which findings only some engines can have. */
const ONLY_WITH: Record<string, (adjustment: string) => boolean> = {
  'rod-runs-out': (adjustment) => !/screw-rocker|bucket/.test(adjustment),
  'rod-tip-mushroomed': (adjustment) => !/screw-rocker|bucket/.test(adjustment),
  'thread-sticks-out': (adjustment) => !/bucket/.test(adjustment),
  'thread-run-down': (adjustment) => !/bucket/.test(adjustment),
  'locknut-loose': (adjustment) => !/bucket/.test(adjustment),
  'stud-loose': (adjustment) => !/bucket/.test(adjustment),
  'rocker-cracked': (adjustment) => !/bucket/.test(adjustment),
  'tip-cupped': (adjustment) => !/bucket/.test(adjustment),
  'shim-dished': (adjustment) => /bucket/.test(adjustment),
  'spongy-lifter': (adjustment) => adjustment === 'hydraulic',
}

export function isOfEngine(kind: FindingKind): boolean {
  return OF_THE_ENGINE.has(kind.id)
}

/** The looking-in findings that an engine of this adjustment can have. */
export function kindsFor(kinds: FindingKind[], adjustment: string): FindingKind[] {
  return kinds.filter(
    (kind) => kind.group === 'looking-in' && (ONLY_WITH[kind.id]?.(adjustment) ?? true),
  )
}

/** Findings have no valve of their own: a valve is its cylinder and its side. */
export function isAt(finding: Finding, valve: Valve): boolean {
  return finding.cylinder === valve.cylinder && finding.side === valve.side
}
