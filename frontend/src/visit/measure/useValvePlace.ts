import { useMemo, useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { measureAddress, stepAddress } from '@/api/addresses'
import type { CrankPlan, EngineDetail, Phase, Visit } from '@/api/client'
import { firstUnread, isDone, measuringOrder, nextValve, valvesOf } from '@/visit/shared/order'

/** Which valve is measured, in which phase and turn of the crank, and where the work goes on after it. */
export function useValvePlace(
  engine: EngineDetail['engine'],
  visit: Visit,
  plan: CrankPlan | undefined,
) {
  const { valveId } = useParams()
  const navigate = useNavigate()
  const [search] = useSearchParams()
  const [phase, setPhase] = useState<Phase>(search.get('phase') === 'left' ? 'left' : 'found')
  const [turned, setTurned] = useState<{ place: string; turn: number } | null>(null)
  const order = useMemo(
    () => measuringOrder(visit, plan, engine.valves),
    [visit, plan, engine.valves],
  )
  // Chosen once on arrival: an answer that settles the first valve must not carry the page on by itself.
  const [arrival] = useState(() => firstUnread(order, visit))
  const valve = valveId ?? arrival ?? ''
  const place = `${valve} ${phase}`
  const stored = visit.valves.find((one) => one.valve === valve)
  const storedTurn = stored?.[phase].crank_turn ?? 1
  const turn = turned?.place === place ? Math.max(turned.turn, storedTurn) : storedTurn
  const next = nextValve(order, visit, phase, valve)
  // Once there is nothing left to measure the work goes on at the next step.
  const after = phase === 'found' ? ('assess' as const) : ('verify' as const)
  return {
    valve,
    phase,
    setPhase,
    place,
    turn,
    stored,
    // Turned round and nothing answered yet: what was read before is an earlier reading.
    measured: turn === storedTurn ? stored?.[phase] : undefined,
    next,
    nothingLeft:
      next === null && (isDone(visit, phase, valve) || valvesOf(order, visit, phase).length === 0),
    turnCrank: () => setTurned({ place, turn: turn + 1 }),
    goTo: (id: string) => void navigate(measureAddress(engine.id, visit.id, id), { replace: true }),
    leave: () => void navigate(stepAddress(engine.id, visit.id, after)),
  }
}
