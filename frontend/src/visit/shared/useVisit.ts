import { useQuery } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { engineQuery } from '@/api/queries'
import { visitQuery } from '@/shared/visitQueries'
import { useReadyForAway } from './useReadyForAway'

/** The engine and the visit that the address names: what every stop of the work line needs. */
export function useVisit() {
  const { engineId = '', visitId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const visit = useQuery(visitQuery(engineId, visitId))
  const open = engine.data?.cases.filter((one) => one.closed === null) ?? []
  useReadyForAway(
    engineId,
    visitId,
    visit.data?.school ?? '',
    open.map((one) => one.id),
  )
  return {
    engineId,
    visitId,
    detail: engine.data,
    visit: visit.data,
    error: engine.error ?? visit.error,
  }
}
