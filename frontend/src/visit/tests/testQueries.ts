import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type CylinderTestIn, type CylinderTests } from '@/api/client'

const of = (engineId: string, visitId: string) => ({ engine_id: engineId, visit_id: visitId })

export const testedQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'tests'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/tests', {
          params: { path: of(engineId, visitId) },
        }),
      ),
  })

export type TestChange =
  | { cylinder: number; test: CylinderTestIn }
  | { figure: string; value: number | null; was: number | null }
  | { altitude_m: number | null; was: number | null }

/** Note figures of a test; what they say of causes is weighed anew. */
export function useNoteTest(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  const path = of(engineId, visitId)
  return useMutation({
    scope: { id: `tests ${engineId} ${visitId}` },
    mutationFn: (change: TestChange): Promise<CylinderTests> => {
      if ('cylinder' in change) {
        return unwrap(
          api.PUT('/api/engines/{engine_id}/visits/{visit_id}/tests/cylinders/{cylinder}', {
            params: { path: { ...path, cylinder: change.cylinder } },
            body: change.test,
          }),
        )
      }
      if ('figure' in change) {
        return unwrap(
          api.PUT('/api/engines/{engine_id}/visits/{visit_id}/tests/figures/{figure_id}', {
            params: { path: { ...path, figure_id: change.figure } },
            body: { value: change.value, was: change.was },
          }),
        )
      }
      return unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/tests/altitude', {
          params: { path },
          body: { altitude_m: change.altitude_m, was: change.was },
        }),
      )
    },
    // What somebody else entered meanwhile is shown beside what was typed here.
    onError: () =>
      queryClient.invalidateQueries({ queryKey: testedQuery(engineId, visitId).queryKey }),
    onSuccess: (kept) => {
      queryClient.setQueryData(testedQuery(engineId, visitId).queryKey, kept)
      void queryClient.invalidateQueries({ queryKey: ['engines', engineId, 'cases'] })
    },
  })
}
