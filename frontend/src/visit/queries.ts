import { queryOptions, useMutation, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { api, unwrap, type MeasuredValve, type TryIn, type Visit } from '@/api/client'
import type { School } from './school'

export const visitQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}', {
          params: { path: { engine_id: engineId, visit_id: visitId } },
        }),
      ),
  })

export const crankQuery = (engineId: string, school: School) =>
  queryOptions({
    queryKey: ['engines', engineId, 'crank', school],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/crank', {
          params: { path: { engine_id: engineId }, query: { school } },
        }),
      ),
    // A plan that cannot be made stays so until the engine's data change.
    retry: false,
  })

export type SentTry = TryIn & { id: string }

/** Put one valve's new state into the visit that the page holds, and mark what follows from it as old. */
function keep(
  queryClient: QueryClient,
  engineId: string,
  visitId: string,
  measured: MeasuredValve,
) {
  const { queryKey } = visitQuery(engineId, visitId)
  queryClient.setQueryData(
    queryKey,
    (visit: Visit | undefined) =>
      visit && {
        ...visit,
        valves: visit.valves.map((valve) => (valve.valve === measured.valve ? measured : valve)),
      },
  )
  void queryClient.invalidateQueries({ queryKey: ['engines'], refetchType: 'none' })
}

/** Answers are sent one after the other, so that what the page shows last is what was answered last. */
export function useSendTry(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    scope: { id: `tries ${engineId} ${visitId}` },
    mutationFn: ({ id, ...body }: SentTry) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/tries/{try_id}', {
          params: { path: { engine_id: engineId, visit_id: visitId, try_id: id } },
          body,
        }),
      ),
    onSuccess: (measured) => keep(queryClient, engineId, visitId, measured),
  })
}

export function useTakeBack(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    scope: { id: `tries ${engineId} ${visitId}` },
    mutationFn: (id: string) =>
      unwrap(
        api.DELETE('/api/engines/{engine_id}/visits/{visit_id}/tries/{try_id}', {
          params: { path: { engine_id: engineId, visit_id: visitId, try_id: id } },
        }),
      ),
    onSuccess: (measured) => keep(queryClient, engineId, visitId, measured),
  })
}
