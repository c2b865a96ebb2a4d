import type { Advice, Estimate, StoredTry } from '@/api/client'
import { Button } from '@/design/Button'
import { length, type LengthUnit } from '@/design/format'
import { VERDICT_COLOUR, VerdictMark } from '@/design/shapes'
import { gapOf, gapText, verdictText } from '@/head-plan/gap'
import { ANSWER_WORDS } from './answers'
import { thicknessMm } from './bladeChoice'
import { worstPair } from './contradiction'

/** What to do next. */
function whatNext(estimate: Estimate, advice: Advice | null, unit: LengthUnit): string {
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

type Reading = {
  valve: string
  phase: string
  tries: StoredTry[]
  estimate: Estimate | null
  advice: Advice | null
  /** Whether there is a spec to judge by. */
  judged: boolean
  /** Why it is not read, where it was passed over. */
  skipped: string | null
  unit: LengthUnit
  onTakeBack: (id: string) => void
}

/** The tries of the reading, and the verdict that they come to. */
export function ReadingLine(reading: Reading) {
  const { tries, estimate, unit } = reading
  const verdict = estimate?.verdict ?? 'blank'
  const odd = estimate?.contradiction ? worstPair(tries) : null
  return (
    <div
      className="border-2 bg-sheet px-4 py-1.5"
      style={{
        borderColor: VERDICT_COLOUR[verdict],
        borderStyle: verdict === 'open' ? 'dashed' : 'solid',
      }}
    >
      <div role="status" aria-live="polite" className="min-h-14">
        <Verdict {...reading} />
      </div>
      <ol
        aria-label="Answers so far"
        className="flex min-h-6 flex-wrap items-center gap-x-4 text-sm"
      >
        {tries.map((one) => {
          const text = `${length(thicknessMm(one.blades_mm), unit)} ${ANSWER_WORDS[one.felt]}`
          return (
            <li key={one.id}>
              {odd?.includes(one) ? (
                // Both stay until the technician says which of them was a slip.
                <Button
                  className="min-h-12 px-2! text-tight"
                  aria-label={`Take back ${text}: it was a slip`}
                  onClick={() => reading.onTakeBack(one.id)}
                >
                  ≠ {text}: a slip
                </Button>
              ) : (
                text
              )}
            </li>
          )
        })}
      </ol>
    </div>
  )
}

function Verdict({ valve, phase, estimate, advice, judged, skipped, unit }: Reading) {
  if (estimate) {
    return (
      <>
        <div className="text-lg">
          <VerdictMark verdict={estimate.verdict} word={verdictText(gapOf(estimate))} />
        </div>
        <div>
          {estimate.contradiction ? (
            // They settle nothing until one of them is taken back.
            <strong className="text-tight">
              These answers cannot well be true together: which is a slip?
            </strong>
          ) : (
            gapText(gapOf(estimate), unit) + whatNext(estimate, advice, unit)
          )}
        </div>
      </>
    )
  }
  if (skipped) return <p>Passed over: {skipped}. An answer reads it after all.</p>
  return (
    <p className="text-ink-soft">
      {judged
        ? `${valve} is not read yet as ${phase}. Offer the blade that is drawn out and answer what the hand feels; up and down choose another.`
        : `${valve} has no clearance spec to judge by: the answers are kept, and no verdict is given.`}
    </p>
  )
}
