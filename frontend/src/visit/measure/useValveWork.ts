import { useMemo, useState } from 'react'
import type { Analysis, BladeSet, CrankPlan, EngineDetail, Visit } from '@/api/client'
import { inHand } from '@/blades/bladeChoice'
import type { TypedAnswer } from '@/blades/typedReading'
import { length } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { useSkip } from '@/shared/visitQueries'
import { isDone } from '@/visit/shared/order'
import { useAutoAdvance } from './useAutoAdvance'
import { useBladeInHand } from './useBladeInHand'
import { useMeasuring } from './useMeasuring'
import { useValvePlace } from './useValvePlace'
import { useVerdictSignal } from './useVerdictSignal'

const DEFAULT_START_MM = 0.2

export type ValveWork = ReturnType<typeof useValveWork>

/** One valve under the hand: what was answered, which blade is next, and all that can be done here. */
export function useValveWork({
  engine,
  analysis,
  visit,
  plan,
  bladeSet,
}: {
  engine: EngineDetail['engine']
  analysis: Analysis
  visit: Visit
  plan: CrankPlan | undefined
  bladeSet: BladeSet
}) {
  const { unit } = usePreferences()
  const at = useValvePlace(engine, visit, plan)
  const { valve, phase, place, turn, stored, measured, next } = at
  const [typing, setTyping] = useState(false)
  const [answeredAt, setAnsweredAt] = useState('')
  const known = analysis.valves.find((one) => one.valve === valve)
  const measuring = useMeasuring(engine.id, visit)
  const skip = useSkip(engine.id, visit.id)
  const tries = measuring.tries(valve, phase, turn)
  const waiting = measuring.waiting(valve, phase, turn)
  const advice = waiting ? null : (measured?.advice ?? null)
  const estimate = measured?.estimate ?? null
  const middle = known?.spec ? (known.spec.min_mm + known.spec.max_mm) / 2 : DEFAULT_START_MM
  const bladesMm = useMemo(() => [...bladeSet.blades_mm].sort((a, b) => a - b), [bladeSet])
  const { choice, take } = useBladeInHand({
    place: `${place} ${turn}`,
    bladesMm,
    startMm: stored?.[phase].estimate?.mean_mm ?? middle,
    tries,
    advice,
    away: waiting && measuring.isAway,
  })
  const isLast = !waiting && at.nothingLeft
  const settled = !waiting && isDone(visit, phase, valve) && estimate?.verdict !== 'open'

  function goTo(id: string) {
    setTyping(false)
    setAnsweredAt('')
    at.goTo(id)
  }
  function goOn() {
    if (next !== null) goTo(next)
    else if (isLast) at.leave()
  }
  const settledHere = settled && answeredAt === place
  const goingOn = useAutoAdvance(settledHere && next !== null, goOn)
  useVerdictSignal({
    decidedHere: settledHere,
    verdict: known?.spec ? estimate?.verdict : undefined,
    refused: measuring.failure?.refused ?? false,
  })
  const hand = inHand(choice)

  return {
    ...at,
    known,
    tries,
    waiting,
    advice,
    estimate,
    bladesMm,
    choice,
    take,
    hand,
    typing,
    setTyping,
    isLast,
    settled,
    goTo,
    goOn,
    skip,
    failure: measuring.failure,
    sendAll: measuring.sendAll,
    letGo: measuring.letGo,
    advancesByItself: goingOn.on,
    setAdvancing(on: boolean) {
      // What was settled before the switch was thrown carries nobody away.
      setAnsweredAt('')
      goingOn.setOn(on)
    },
    answer(felt: 'no-go' | 'drag' | 'free') {
      setAnsweredAt(place)
      // Typed in their own unit, where they are none of the set's.
      const entered = choice.typed ? choice.typed.map((mm) => length(mm, unit)).join(' + ') : null
      measuring.answer({ valve, phase, blades_mm: hand, felt, crank_turn: turn, entered })
    },
    /** A reading that was typed, as the answers that it stands for. */
    enter(answers: TypedAnswer[]) {
      setTyping(false)
      setAnsweredAt(place)
      for (const { bladesMm: blades_mm, felt, entered } of answers) {
        measuring.answer({ valve, phase, blades_mm, felt, crank_turn: turn, entered })
      }
    },
    /** Take back all that was answered here. */
    clear() {
      setAnsweredAt('')
      for (const { id } of [...tries].reverse()) measuring.takeBack(id)
    },
    takeBack(id = tries.at(-1)?.id) {
      setAnsweredAt('')
      if (id !== undefined) measuring.takeBack(id)
    },
    turnRound() {
      setAnsweredAt('')
      if (tries.length > 0 && !waiting) at.turnCrank()
    },
    stack: () => take({ type: choice.stacked.length > 0 ? 'unstack' : 'stack' }),
  }
}
