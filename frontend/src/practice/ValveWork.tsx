import { useState } from 'react'
import type { PracticeRun } from '@/api/client'
import { Button } from '@/design/Button'
import { length, lengthFigure, lengthRange } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { typedLengthMm } from '@/design/typedLength'
import { gapOf, gapText, verdictText } from '@/head-plan/gap'
import { ANSWER_WORDS } from '@/blades/answers'
import { feltAt, nearest, type Felt } from '@/blades/bladeChoice'
import { BladeFan } from '@/blades/BladeFan'
import { useKeys } from '@/design/useKeys'
import type { useRun } from './queries'

type Doing = ReturnType<typeof useRun>
type Valve = PracticeRun['valves'][number]

/** One valve of the practice engine under the hand: waggled, measured blade by blade, set and locked. */
export function ValveWork({
  run,
  valveId,
  doing,
  onNext,
}: {
  run: PracticeRun
  valveId: string
  doing: Doing
  onNext: () => void
}) {
  const { unit } = usePreferences()
  const valve = run.valves.find((one) => one.valve === valveId)
  const middle = valve ? 0.5 * (valve.spec.min_mm + valve.spec.max_mm) : 0
  const [hand, setHand] = useState<{ at: number; under: number[] }>(() => ({
    at: nearest(run.blades_mm, middle),
    under: [],
  }))
  /** What was last advised here. A further answer, or the crank turned on, makes it old. */
  const [hint, setHint] = useState<{ step: number; pressed: boolean; blades_mm: number[] | null }>()
  const hinted = hint?.step === run.steps ? hint : undefined
  const [target, setTarget] = useState(() => lengthFigure(middle, unit))
  const ended = run.review !== null
  const busy = doing.step.isPending
  const phase = valve && valve.times_set > 0 ? 'left' : 'found'
  const blade = run.blades_mm[hand.at]
  const blades = blade === undefined ? hand.under : [...hand.under, blade]

  const act = (kind: 'waggle' | 'look' | 'lock') =>
    !ended && !busy && doing.step.mutate({ kind, valve: valveId })
  const offer = () =>
    !ended &&
    !busy &&
    doing.step.mutate(
      { kind: 'blade', valve: valveId, blades_mm: blades },
      {
        onSuccess: () => setHand((now) => ({ ...now, under: [] })),
      },
    )
  const askHint = () =>
    doing.hint.mutate(
      { valve: valveId, phase },
      {
        onSuccess: ({ pressed, blades_mm }) => {
          setHint({ step: run.steps, pressed, blades_mm })
          const last = blades_mm?.at(-1)
          if (blades_mm && last !== undefined)
            setHand({ at: nearest(run.blades_mm, last), under: blades_mm.slice(0, -1) })
        },
      },
    )
  const step = (by: number) =>
    setHand((now) => ({
      ...now,
      at: Math.max(0, Math.min(run.blades_mm.length - 1, now.at + by)),
    }))
  function set() {
    const mm = typedLengthMm(target, unit)
    if (!ended && !busy && mm !== undefined)
      doing.step.mutate({ kind: 'set', valve: valveId, target_mm: mm })
  }

  useKeys((event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const on = event.target
    if (on instanceof HTMLElement && on.matches('input, select, textarea, a')) return
    // On a button Enter presses that button; on the plan the arrows walk the plan and Enter offers the blade.
    const onButton = on instanceof Element && on.closest('button, [role="tab"]')
    const onPlan = on instanceof Element && on.closest('[role="button"]')
    const doings: Record<string, () => void> = {
      ArrowUp: () => step(1),
      ArrowDown: () => step(-1),
      w: () => act('waggle'),
      v: () => act('look'),
      h: askHint,
      s: set,
      l: () => act('lock'),
      n: onNext,
      '+': () => blade !== undefined && setHand((now) => ({ ...now, under: [blade] })),
    }
    if (event.key === 'Enter' && !onButton) doings.Enter = offer
    const wanted = doings[event.key.length === 1 ? event.key.toLowerCase() : event.key]
    if (!wanted || ((onButton || onPlan) && event.key.startsWith('Arrow'))) return
    event.preventDefault()
    wanted()
  })

  if (!valve) return null
  const tries = (phase === 'left' ? valve.left : valve.found).map((one) => ({
    blades_mm: one.blades_mm,
    felt: one.felt as Felt,
  }))
  const target_mm = typedLengthMm(target, unit)
  return (
    <div className="flex flex-col gap-2 p-3">
      <div className="flex flex-wrap items-center gap-2">
        <Button disabled={ended} onClick={() => act('waggle')}>
          rock <span className="text-sm text-ink-soft">( W )</span>
        </Button>
        <Button disabled={ended} onClick={() => act('look')}>
          look <span className="text-sm text-ink-soft">( V )</span>
        </Button>
        <Button disabled={ended} onClick={askHint}>
          hint <span className="text-sm text-ink-soft">( H )</span>
        </Button>
        <Button look="quiet" onClick={onNext}>
          next <span className="text-sm">( N )</span>
        </Button>
      </div>
      <p role="status" className="min-h-6">
        Spec <strong>{lengthRange(valve.spec.min_mm, valve.spec.max_mm, unit)}</strong>.{' '}
        {[
          valve.waggle === 'click' && 'A small click: there is play.',
          valve.waggle === 'dead' && 'No play: the valve is open or there is no clearance.',
          valve.seen && (valve.seen.length > 0 ? `${valve.seen.join(', ')}.` : 'Nothing to see.'),
          hinted?.pressed &&
            'The valve is open here: turn the crank on until its lobe points away.',
          hinted && !hinted.pressed && hinted.blades_mm === null && 'No blade would tell you more.',
        ]
          .filter(Boolean)
          .join(' ')}
      </p>
      <div className="mx-auto w-full max-w-[400px]">
        <BladeFan
          bladesMm={run.blades_mm}
          chosen={hand.at}
          felt={feltAt(run.blades_mm, tries)}
          advisedMm={hinted?.blades_mm ?? []}
          prints={[unit]}
          onChoose={(at) => setHand((now) => ({ ...now, at }))}
        />
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <Button look="main" disabled={ended || busy} onClick={offer} className="min-h-12 grow">
          try {blades.map((one) => length(one, unit)).join(' + ')}{' '}
          <span className="text-sm">( Enter )</span>
        </Button>
        {hand.under.length > 0 && (
          <Button onClick={() => setHand((now) => ({ ...now, under: [] }))}>only one</Button>
        )}
      </div>
      <Known valve={valve} />
      {!ended && (
        <div className="flex flex-wrap items-end gap-2 border-t border-rule pt-2">
          <label className="flex flex-col text-sm text-ink-soft">
            adjust to, {unit}
            <input
              value={target}
              inputMode="decimal"
              onChange={(event) => setTarget(event.target.value)}
              aria-invalid={target_mm === undefined}
              className="min-h-11 w-24 rounded-card border border-rule-strong bg-paper px-2 text-base text-ink"
            />
          </label>
          <Button disabled={busy || target_mm === undefined} onClick={set}>
            slacken and adjust <span className="text-sm text-ink-soft">( S )</span>
          </Button>
          <Button disabled={busy || !valve.slack} onClick={() => act('lock')}>
            tighten the locknut <span className="text-sm text-ink-soft">( L )</span>
          </Button>
          {valve.slack && <strong className="pb-2 text-loose">the locknut is slack</strong>}
        </div>
      )}
    </div>
  )
}

/** The answers in order, and what they come to. */
function Known({ valve }: { valve: Valve }) {
  const { unit } = usePreferences()
  const phases = [
    { name: 'as found', answers: valve.found, says: valve.found_says },
    { name: 'as left', answers: valve.left, says: valve.left_says },
  ].filter((one) => one.answers.length > 0)
  if (phases.length === 0) return <p className="text-ink-soft">Not measured yet.</p>
  return (
    <>
      {phases.map(({ name, answers, says }) => (
        <p key={name}>
          <strong>{name}:</strong>{' '}
          {answers
            .map((one) => {
              const blades = one.blades_mm.map((mm) => length(mm, unit)).join(' + ')
              return `${blades} ${ANSWER_WORDS[one.felt as Felt]}`
            })
            .join('; ')}
          {says && (
            <span className="font-semibold">
              {' '}
              → {gapText(gapOf(says), unit)}, {verdictText(gapOf(says))}
            </span>
          )}
        </p>
      ))}
    </>
  )
}
