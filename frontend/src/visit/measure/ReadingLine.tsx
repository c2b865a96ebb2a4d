import type { Advice, Estimate, StoredTry } from '@/api/client'
import { Button } from '@/design/Button'
import { length, type LengthUnit } from '@/design/format'
import { VERDICT_COLOUR, VerdictMark } from '@/design/shapes'
import { gapOf, gapText, temperatureText, verdictText, type Temperatures } from '@/head-plan/gap'
import { ANSWER_WORDS } from '@/blades/answers'
import { thicknessMm } from '@/blades/bladeChoice'
import { worstPair } from './contradiction'

function capitalised(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** What to do next. */
function whatNext(estimate: Estimate, advice: Advice | null, unit: LengthUnit): string {
  if (advice?.for_number) {
    const blade = advice.blades_mm ? length(thicknessMm(advice.blades_mm), unit) : null
    if (blade !== null) return `. To choose a shim its clearance is needed: try ${blade}.`
    return advice.would_settle_mm === null
      ? '. No number is to be had with these blades: the first shim is provisional, to be measured again.'
      : `. To choose a shim its clearance is needed; no blade in this set tells more, ${length(advice.would_settle_mm, unit)} would.`
  }
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
  temperatures: Temperatures
  onTakeBack: (id: string) => void
}

/** The tries of the reading, and the verdict that they come to. */
export function ReadingLine(reading: Reading) {
  const { tries, estimate, unit } = reading
  const verdict = estimate ? gapOf(estimate).verdict : 'blank'
  const odd = estimate?.contradiction ? worstPair(tries) : null
  return (
    <div
      className="border-2 bg-sheet px-4 py-1.5"
      style={{
        borderColor: VERDICT_COLOUR[verdict],
        borderStyle: verdict === 'open' ? 'dashed' : 'solid',
      }}
    >
      {/* The answers become buttons where they contradict each other: the whole must still fit. */}
      <div role="status" aria-live="polite" className={odd ? undefined : 'min-h-14'}>
        <Verdict {...reading} />
      </div>
      <ol
        aria-label="Answers so far"
        className="flex min-h-6 flex-wrap items-center gap-x-4 text-sm"
      >
        {tries.map((one, at) => {
          const again = tries.slice(0, at).some((other) => isSameAnswer(other, one))
          const text = `${length(thicknessMm(one.blades_mm), unit)} ${ANSWER_WORDS[one.felt]}${again ? ' (the same again)' : ''}`
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

function isSameAnswer(a: StoredTry, b: StoredTry): boolean {
  return a.felt === b.felt && Math.abs(thicknessMm(a.blades_mm) - thicknessMm(b.blades_mm)) < 1e-6
}

function Verdict({ valve, phase, estimate, advice, judged, skipped, unit, temperatures }: Reading) {
  if (estimate) {
    const temperature = temperatureText(estimate, temperatures, unit)
    if (estimate.contradiction) {
      // They settle nothing until one of them is taken back.
      const word = 'Contradictory: cannot well be true together. Which is a slip?'
      return <VerdictMark verdict="open" word={word} />
    }
    return (
      <>
        <div className="text-lg">
          <VerdictMark verdict={gapOf(estimate).verdict} word={verdictText(gapOf(estimate))} />
        </div>
        <div>{gapText(gapOf(estimate), unit) + whatNext(estimate, advice, unit)}</div>
        {temperature && <div className="text-sm">{capitalised(temperature)}.</div>}
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
