import { t } from '@lingui/core/macro'
import { Button } from '@/design/Button'
import { VerdictMark } from '@/design/shapes'
import { gapOf } from '@/head-plan/gap'
import type { ValveWork } from './useValveWork'

/** On a phone: undo, how the valve stands and the next one, beside the answers. */
export function WithinReach({ work }: { work: ValveWork }) {
  const { estimate, tries, phase, isLast, next } = work
  return (
    <div className="flex items-center justify-between gap-1.5 md:hidden" data-pointer="next">
      <Button
        onClick={() => work.takeBack()}
        disabled={tries.length === 0}
        className="min-h-12 px-3!"
      >
        {t`Undo`}
      </Button>
      {estimate && <VerdictMark verdict={gapOf(estimate).verdict} />}
      <Button
        look={work.settled ? 'main' : 'plain'}
        onClick={work.goOn}
        disabled={next === null && !isLast}
        className="min-h-12 px-3!"
      >
        {isLast ? (phase === 'found' ? t`Next: Assess` : t`Next: Verify`) : t`Next valve`}
      </Button>
    </div>
  )
}
