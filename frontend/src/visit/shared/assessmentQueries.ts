import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Assessment, type Decided } from '@/api/client'
import { changeKey, useKeepVisit, visitPath, visitQuery } from '@/shared/visitQueries'

const decideKey = (engineId: string, visitId: string) => ['decide', engineId, visitId]

const assessmentQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'assessment'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/assessment', {
          params: visitPath(engineId, visitId),
        }),
      ),
  })

/** The visit as assessed. */
export function useAssessment(engineId: string, visitId: string) {
  return useQuery(assessmentQuery(engineId, visitId))
}

export function useDecide(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  const { queryKey } = assessmentQuery(engineId, visitId)
  const mutationKey = decideKey(engineId, visitId)
  return useMutation({
    mutationKey,
    scope: { id: `decisions ${engineId} ${visitId}` },
    mutationFn: ({
      valve,
      ...body
    }: {
      valve: string
      decided: Decided | null
      was: Decided | null
    }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/valves/{valve}/decision', {
          params: { path: { engine_id: engineId, visit_id: visitId, valve } },
          body,
        }),
      ),
    onMutate: ({ valve, decided }) => {
      void queryClient.cancelQueries({ queryKey })
      queryClient.setQueryData(
        queryKey,
        (assessment: Assessment | undefined) =>
          assessment && {
            ...assessment,
            valves: assessment.valves.map((one) =>
              one.valve === valve ? { ...one, decided } : one,
            ),
          },
      )
    },
    onError: () => queryClient.invalidateQueries({ queryKey }),
    onSuccess: (assessment) => {
      if (queryClient.isMutating({ mutationKey }) <= 1) {
        queryClient.setQueryData(queryKey, assessment)
      }
      void queryClient.invalidateQueries({
        queryKey: visitQuery(engineId, visitId).queryKey,
        exact: true,
      })
    },
  })
}

/** A position that checks one turn off: its readings stand, or they are taken again. */
export function usePosition(engineId: string, visitId: string) {
  const keepVisit = useKeepVisit(engineId, visitId)
  const queryClient = useQueryClient()
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    mutationFn: (body: { valves: string[]; action: 'confirm' | 'read-again' }) =>
      unwrap(
        api.POST('/api/engines/{engine_id}/visits/{visit_id}/positions', {
          params: visitPath(engineId, visitId),
          body,
        }),
      ),
    onSuccess: (visit) => {
      keepVisit(visit)
      void queryClient.invalidateQueries({ queryKey: assessmentQuery(engineId, visitId).queryKey })
    },
  })
}
