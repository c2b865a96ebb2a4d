import { t } from '@lingui/core/macro'

/** The shapes that go with the colours of a verdict, so that colour is never alone. */

export type VerdictWord = 'tight' | 'in' | 'loose' | 'open' | 'blank'

/** A verdict as it is said; where none is reached it is inconclusive. */
export const VERDICT_WORDS: Record<VerdictWord, string> = {
  tight: t`tight`,
  in: t`in spec`,
  loose: t`loose`,
  open: t`inconclusive`,
  blank: t`not measured`,
}

export const VERDICT_COLOUR: Record<VerdictWord, string> = {
  tight: 'var(--color-tight)',
  in: 'var(--color-in)',
  loose: 'var(--color-loose)',
  open: 'var(--color-open)',
  blank: 'var(--color-rule-strong)',
}

/** Drawn about the origin, 28 wide and 10 high. */
export function VerdictShape({ verdict }: { verdict: VerdictWord }) {
  const colour = VERDICT_COLOUR[verdict]
  switch (verdict) {
    case 'tight':
      return <path d="M-13 -5 L-2 0 L-13 5 Z M13 -5 L2 0 L13 5 Z" fill={colour} />
    case 'loose':
      return <path d="M-2 -5 L-13 0 L-2 5 Z M2 -5 L13 0 L2 5 Z" fill={colour} />
    case 'in':
      return <rect x={-12} y={-3.5} width={24} height={7} fill={colour} />
    case 'open':
      return (
        <rect
          x={-12}
          y={-4}
          width={24}
          height={8}
          fill="none"
          stroke={colour}
          strokeWidth={1.8}
          strokeDasharray="4 3"
        />
      )
    case 'blank':
      return <rect x={-12} y={-4} width={24} height={8} fill="none" stroke={colour} />
  }
}

export function VerdictMark({ verdict, word }: { verdict: VerdictWord; word?: string }) {
  return (
    <span className="inline-flex items-center gap-2 whitespace-nowrap max-md:whitespace-normal">
      <svg width={28} height={12} className="shrink-0" viewBox="-14 -6 28 12" aria-hidden="true">
        <VerdictShape verdict={verdict} />
      </svg>
      {/* The outline of a blank is too pale to be read as a word. */}
      <span
        style={{ color: verdict === 'blank' ? 'var(--color-ink-soft)' : VERDICT_COLOUR[verdict] }}
        className="font-semibold"
      >
        {word ?? VERDICT_WORDS[verdict]}
      </span>
    </span>
  )
}
