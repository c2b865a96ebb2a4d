import { useState } from 'react'
import type { PracticeRun } from '@/api/client'
import { nearest } from '@/blades/bladeChoice'
import { lengthFigure } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { typedLengthMm } from '@/design/typedLength'
import { useKeys } from '@/design/useKeys'
import type { useRun } from './queries'

/** What the hands do at one valve of the practice engine, by button and by key. */
export function useValveHands({
  run,
  valveId,
  doing,
  onNext,
}: {
  run: PracticeRun
  valveId: string
  doing: ReturnType<typeof useRun>
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

  return {
    valve,
    phase: phase as 'found' | 'left',
    hand,
    setHand,
    blades,
    hinted,
    target,
    setTarget,
    ended,
    busy,
    waggle: () => act('waggle'),
    look: () => act('look'),
    lock: () => act('lock'),
    offer,
    askHint,
    set,
  }
}
