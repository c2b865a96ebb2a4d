import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Progress, type Visit } from '@/api/client'

export const WORK_OPEN: Progress = { state: 'open', awaited: [], promised: null, ended: null }

/** Says how far the work of a visit is. */
export function useProgress(engineId: string, visit: Pick<Visit, 'id' | 'progress'>) {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: (progress: Progress) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/verification/progress', {
          params: { path: { engine_id: engineId, visit_id: visit.id } },
          body: { progress, was: visit.progress },
        }),
      ),
    onSuccess: async () => {
      void queryClient.invalidateQueries({ queryKey: ['parts-on-order'] })
      void queryClient.invalidateQueries({ queryKey: ['shim-box'] })
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
    },
  })
}
