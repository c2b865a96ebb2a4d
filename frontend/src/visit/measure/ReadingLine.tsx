import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import type { Advice, Estimate, StoredTry } from '@/api/client'
import { Button } from '@/design/Button'
import { length, type LengthUnit } from '@/design/format'
import { VERDICT_COLOUR, VerdictMark } from '@/design/shapes'
import { gapOf, gapText, temperatureText, verdictText, type Temperatures } from '@/head-plan/gap'
import { ANSWER_WORDS } from '@/blades/answers'
import { thicknessMm } from '@/blades/bladeChoice'
import { worstPair } from './contradiction'
import { named } from '@/design/names'

function capitalised(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** What to do next. */
function whatNext(estimate: Estimate, advice: Advice | null, unit: LengthUnit): string {
  if (advice?.for_number) {
    const blade = advice.blades_mm ? length(thicknessMm(advice.blades_mm), unit) : null
    if (blade !== null) return t`. To choose a shim, measure its clearance: try ${blade} next.`
    return advice.would_settle_mm === null
      ? t`. These blades give no figure: the first shim is provisional, to be re-measured.`
      : t`. To choose a shim its clearance is needed, but no blade in this set tells more; ${length(advice.would_settle_mm, unit)} would.`
  }
  if (estimate.verdict !== 'open') return t`. Decided.`
  switch (advice?.end) {
    case 'no-gain':
      return advice.would_settle_mm === null
        ? t`. Too near a limit for any blade to decide.`
        : t`. No blade in this set can decide it; ${length(advice.would_settle_mm, unit)} would.`
    case 'enough-tries':
      return t`. Still inconclusive after eight answers: leave it so, or recheck in another way.`
    default:
      return t`. Not decided yet: try another blade.`
  }
}

type Reading = {
  valve: string
  phase: string
  tries: StoredTry[]
  estimate: Estimate | null
  advice: Advice | null
  /** Whether there is a spec to judge by. */
  assessed: boolean
  /** Why it is not read, where it was passed over. */
  skipped: string | null
  unit: LengthUnit
  temperatures: Temperatures
  onTakeBack: (id: string) => void
  onClear: () => void
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
      <div className="flex items-center justify-between gap-2 text-sm">
        <ol aria-label={t`Answers so far`} className="flex min-h-6 flex-wrap items-center gap-x-4">
          {tries.map((one, at) => {
            const again = tries.slice(0, at).some((other) => isSameAnswer(other, one))
            const text = `${length(thicknessMm(one.blades_mm), unit)} ${ANSWER_WORDS[one.felt]}${again ? t` (the same again)` : ''}`
            return (
              <li key={one.id}>
                {odd?.includes(one) ? (
                  // Both stay until the technician says which of them was an entry error.
                  <Button
                    className="min-h-12 px-2! text-tight"
                    aria-label={t`Undo ${text}: entry error`}
                    onClick={() => reading.onTakeBack(one.id)}
                  >
                    <Trans>≠ {text}: entry error</Trans>
                  </Button>
                ) : (
                  text
                )}
              </li>
            )
          })}
        </ol>
        {tries.length > 1 && !odd && (
          <ClearAnswers key={reading.valve} count={tries.length} onClear={reading.onClear} />
        )}
      </div>
    </div>
  )
}

/** All of them at once, asked once: a reading begun anew. */
function ClearAnswers({ count, onClear }: { count: number; onClear: () => void }) {
  const [asked, setAsked] = useState(false)
  if (!asked) {
    return (
      <Button look="quiet" className="-my-2.5 shrink-0 px-2!" onClick={() => setAsked(true)}>
        {t`clear all`}
      </Button>
    )
  }
  return (
    <span className="-my-2.5 flex shrink-0 items-center gap-1">
      <Button
        className="px-2! text-tight"
        onClick={() => {
          setAsked(false)
          onClear()
        }}
      >
        <Trans>Clear all {count}</Trans>
      </Button>
      <Button look="quiet" className="px-2!" onClick={() => setAsked(false)}>
        {t`Keep them`}
      </Button>
    </span>
  )
}

function isSameAnswer(a: StoredTry, b: StoredTry): boolean {
  return a.felt === b.felt && Math.abs(thicknessMm(a.blades_mm) - thicknessMm(b.blades_mm)) < 1e-6
}

function Verdict({
  valve,
  phase,
  estimate,
  advice,
  assessed,
  skipped,
  unit,
  temperatures,
}: Reading) {
  if (estimate) {
    const temperature = temperatureText(estimate, temperatures, unit)
    if (estimate.contradiction) {
      // They settle nothing until one of them is taken back.
      const word = t`These answers contradict each other. Which one is the entry error?`
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
  if (skipped)
    return (
      <p>
        <Trans>Skipped: {skipped}. To measure it anyway, just answer.</Trans>
      </p>
    )
  return (
    <p className="text-ink-soft">
      {assessed
        ? t`${valve} is not measured yet as ${named(phase)}. Try the recommended blade and enter how it feels; up and down choose another.`
        : t`${valve} has no clearance spec: the answers are stored without a verdict.`}
    </p>
  )
}
