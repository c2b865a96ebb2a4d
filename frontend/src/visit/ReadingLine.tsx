import type { Advice, Estimate, Phase, StoredTry } from '@/api/client'
import { Button } from '@/design/Button'
import { length, type LengthUnit } from '@/design/format'
import { VERDICT_COLOUR, VerdictMark } from '@/design/shapes'
import { gapOf, gapText, verdictText } from '@/head-plan/gap'
import { ANSWER_WORDS } from './answers'
import { thicknessMm } from './bladeChoice'

/** What to do next; answers that contradict each other settle nothing. */
function whatNext(estimate: Estimate, advice: Advice | null, unit: LengthUnit): string {
  if (estimate.contradiction) return '. '
  if (estimate.verdict !== 'open') return '. Settled.'
  switch (advice?.end) {
    case 'no-gain':
      return advice.would_settle_mm === null
        ? '. Too near a limit to be settled by any blade.'
        : `. Nothing at hand can settle it; ${length(advice.would_settle_mm, unit)} would tell most.`
    case 'enough-tries':
      return '. Still open after eight answers: leave it open, or look again another way.'
    default:
      return '. Not settled: another blade can tell more.'
  }
}

/** The tries of the reading, and the verdict that they come to. */
export function ReadingLine({
  valve,
  phase,
  tries,
  estimate,
  advice,
  judged,
  unit,
  onTakeBack,
  onNext,
}: {
  valve: string
  phase: Phase
  tries: StoredTry[]
  estimate: Estimate | null
  advice: Advice | null
  /** Whether there is a spec to judge by. */
  judged: boolean
  unit: LengthUnit
  onTakeBack: () => void
  onNext: () => void
}) {
  const verdict = estimate?.verdict ?? 'blank'
  const settled = estimate !== null && estimate.verdict !== 'open' && !estimate.contradiction
  return (
    <div
      className="border-2 bg-sheet px-4 py-2"
      style={{
        borderColor: VERDICT_COLOUR[verdict],
        borderStyle: verdict === 'open' ? 'dashed' : 'solid',
      }}
    >
      <div role="status" aria-live="polite" className="min-h-14">
        {estimate ? (
          <>
            <div className="text-lg">
              <VerdictMark verdict={verdict} word={verdictText(gapOf(estimate))} />
            </div>
            <div>
              {gapText(gapOf(estimate), unit)}
              {whatNext(estimate, advice, unit)}
              {estimate.contradiction && (
                <strong className="text-tight">
                  These answers cannot well be true together: measure it again.
                </strong>
              )}
            </div>
          </>
        ) : !judged ? (
          <p className="text-ink-soft">
            {valve} has no clearance spec to judge by: the answers are kept, and no verdict is
            given.
          </p>
        ) : (
          <p className="text-ink-soft">
            {valve} is not read yet as {phase}. Offer the blade that is drawn out and answer what
            the hand feels; up and down choose another.
          </p>
        )}
      </div>
      <ol aria-label="Answers so far" className="flex min-h-7 flex-wrap gap-x-4 text-sm">
        {tries.map((one) => (
          <li key={one.id}>
            {length(thicknessMm(one.blades_mm), unit)} {ANSWER_WORDS[one.felt]}
          </li>
        ))}
      </ol>
      <div className="mt-1 flex justify-between gap-2">
        <Button onClick={onTakeBack} disabled={tries.length === 0} className="min-h-12">
          Take back ( Backspace )
        </Button>
        <Button look={settled ? 'main' : 'plain'} onClick={onNext} className="min-h-12">
          Next valve ( Enter )
        </Button>
      </div>
    </div>
  )
}
