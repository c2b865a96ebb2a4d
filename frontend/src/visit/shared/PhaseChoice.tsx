import { t } from '@lingui/core/macro'
import type { Phase } from '@/api/client'

/** As found, before anything is touched, or as left, after the last lock-up. */
export function PhaseChoice({
  phase,
  onChange,
  keys = true,
}: {
  phase: Phase
  onChange: (phase: Phase) => void
  /** Whether the page has the keys for it. */
  keys?: boolean
}) {
  return (
    <div role="group" aria-label={t`Phase`} className="flex shrink-0">
      {(['found', 'left'] as const).map((one) => (
        <button
          key={one}
          type="button"
          aria-pressed={phase === one}
          onClick={() => onChange(one)}
          className={`min-h-12 min-w-24 border max-lg:min-w-20 border-rule-strong px-3 ${
            phase === one ? 'bg-ink font-semibold text-paper' : 'bg-sheet'
          }`}
        >
          {one === 'found' ? t`as found` : t`as left`}{' '}
          {keys && <span className="text-sm max-lg:hidden">( {one === 'found' ? 'F' : 'G'} )</span>}
        </button>
      ))}
    </div>
  )
}
