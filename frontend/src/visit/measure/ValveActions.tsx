import { plural, t } from '@lingui/core/macro'
import type { Visit } from '@/api/client'
import { Button } from '@/design/Button'
import { SkipValve } from './SkipValve'
import type { ValveWork } from './useValveWork'

/** What was read as found, once nothing is left to read. */
function readWords(visit: Visit): string {
  const skipped = visit.valves.filter((one) => one.found.skipped && one.found.tries.length === 0)
  const read = visit.valves.length - skipped.length
  const passed =
    skipped.length > 0 ? t`; skipped: ${skipped.map((one) => one.valve).join(' ')}` : ''
  return t`${skipped.length > 0 ? t`${read} of ${visit.valves.length}` : t`All ${read}`} valves are measured${passed}. Enter: next step, Assess.`
}

/** What was measured again, once every adjusted valve is. */
function leftWords(visit: Visit): string {
  return visit.adjusted.length === 0
    ? t`No valve was adjusted at this visit: nothing to measure as left. Enter: next step, Verify.`
    : plural(visit.adjusted.length, {
        one: 'The adjusted valve is measured as left. Enter: next step, Verify.',
        other: 'All # adjusted valves are measured as left. Enter: next step, Verify.',
      })
}

/** Back, past it, once more or on to the next valve. */
export function ValveActions({ work, visit }: { work: ValveWork; visit: Visit }) {
  const { valve, phase, tries, skip, isLast } = work
  const skipped = work.measured?.skipped ?? null
  return (
    <>
      <div className="flex flex-wrap justify-between gap-1.5" data-pointer="next">
        <Button
          onClick={() => work.takeBack()}
          disabled={tries.length === 0}
          className="min-h-12 px-2.5! max-md:hidden"
          title={t`Backspace`}
        >
          {t`Undo`}
        </Button>
        <SkipValve
          valve={valve}
          skipped={skipped}
          error={skip.error}
          onSkip={(reason) =>
            // A valve passed over is done with; one that is to be read after all stays.
            skip.mutate({ valve, phase, reason }, reason === null ? {} : { onSuccess: work.goOn })
          }
        />
        <Button
          onClick={work.turnRound}
          disabled={tries.length === 0 || work.waiting}
          className="min-h-12 px-2! text-sm"
          title={t`Turn the crank twice round and measure this valve again: it shows a bent pushrod`}
        >
          {t`Re-measure (crank turned) ( R )`}
        </Button>
        <Button
          look={work.settled ? 'main' : 'plain'}
          onClick={work.goOn}
          disabled={work.next === null && !isLast}
          className="min-h-12 px-2.5! max-md:hidden"
        >
          {isLast
            ? t`${phase === 'found' ? t`Next: Assess` : t`Next: Verify`} ( Enter )`
            : t`Next valve ( Enter )`}
        </Button>
      </div>
      {isLast && (
        <p role="status" className="font-semibold text-in">
          {phase === 'found' ? readWords(visit) : leftWords(visit)}
        </p>
      )}
    </>
  )
}
