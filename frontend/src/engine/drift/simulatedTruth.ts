import { useQuery } from '@tanstack/react-query'
import type { Analysis, TrueClearance } from '@/api/client'
import { simulatedTruthQuery } from '@/api/queries'
import type { Truth } from './chartGeometry'

/** The true clearances of a demonstration's engine, valve by valve; undefined for every real one. */
export function useTruth(engineId: string): TrueClearance[] | undefined {
  const { data } = useQuery(simulatedTruthQuery(engineId))
  return data?.clearances
}

export function truthOf(clearances: TrueClearance[], analysis: Analysis, valve: string): Truth {
  const usages = new Map(
    analysis.valves[0]?.history.map((state) => [state.visit, state.usage] as const),
  )
  return clearances.flatMap((one) => {
    const usage = usages.get(one.visit)
    return one.valve === valve && usage !== undefined ? [{ ...one, usage }] : []
  })
}
