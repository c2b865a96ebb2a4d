import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Finding } from '@/api/client'

const path = (engineId: string, caseId: string) => ({
  params: { path: { engine_id: engineId, case_id: caseId } },
})

export const caseQuery = (engineId: string, caseId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'cases', caseId],
    queryFn: () =>
      unwrap(api.GET('/api/engines/{engine_id}/cases/{case_id}', path(engineId, caseId))),
  })

export const diagnosisQuery = (engineId: string, caseId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'cases', caseId, 'diagnosis'],
    queryFn: () =>
      unwrap(api.GET('/api/engines/{engine_id}/cases/{case_id}/diagnosis', path(engineId, caseId))),
    // The picture before a tick stays up while the new one is worked out.
    placeholderData: (before) => before,
  })

/** Note a finding of the case as a whole; the causes are ranked anew. */
export function useNoteFinding(engineId: string, caseId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    scope: { id: `findings ${engineId} ${caseId}` },
    mutationFn: ({ id, state }: { id: string; state: Finding['state'] }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/cases/{case_id}/findings/{finding_id}', {
          params: { path: { engine_id: engineId, case_id: caseId, finding_id: id } },
          body: { state },
        }),
      ),
    onSuccess: (kept) => {
      queryClient.setQueryData(caseQuery(engineId, caseId).queryKey, kept)
      void queryClient.invalidateQueries({ queryKey: diagnosisQuery(engineId, caseId).queryKey })
      void queryClient.invalidateQueries({ queryKey: ['engines'], exact: true })
    },
  })
}
