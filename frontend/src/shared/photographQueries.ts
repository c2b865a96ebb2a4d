import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { StepName } from '@/api/addresses'
import { api, unwrap, type Caption, type VisitPhotograph } from '@/api/client'

const visitPath = (engineId: string, visitId: string) => ({
  engine_id: engineId,
  visit_id: visitId,
})

export const photographsQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'photographs'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/photographs', {
          params: { path: visitPath(engineId, visitId) },
        }),
      ),
  })

/** The valves of which there is a photograph, for the plan. */
export function usePhotographedValves(engineId: string, visitId: string): ReadonlySet<string> {
  const { data = [] } = useQuery(photographsQuery(engineId, visitId))
  return new Set(data.flatMap((one) => one.valve ?? []))
}

export type NewPhotograph = { id: string; step: StepName; file: File } & Omit<Caption, 'on_card'>

export function useAddPhotograph(engineId: string, visitId: string) {
  return useChange(engineId, visitId, ({ id, step, file, valve, text }: NewPhotograph) =>
    api.PUT('/api/engines/{engine_id}/visits/{visit_id}/photographs/{photograph_id}', {
      params: {
        path: { ...visitPath(engineId, visitId), photograph_id: id },
        query: { step, valve, text },
      },
      body: file as unknown as string,
      // The picture goes as it is.
      bodySerializer: (body) => body as unknown as Blob,
      headers: { 'Content-Type': file.type || 'application/octet-stream' },
    }),
  )
}

export function useCaption(engineId: string, visitId: string) {
  return useChange(engineId, visitId, ({ id, ...body }: { id: string; was: Caption } & Caption) =>
    api.PUT('/api/engines/{engine_id}/visits/{visit_id}/photographs/{photograph_id}/caption', {
      params: { path: { ...visitPath(engineId, visitId), photograph_id: id } },
      body,
    }),
  )
}

export function useRemovePhotograph(engineId: string, visitId: string) {
  return useChange(engineId, visitId, (id: string) =>
    api.DELETE('/api/engines/{engine_id}/visits/{visit_id}/photographs/{photograph_id}', {
      params: { path: { ...visitPath(engineId, visitId), photograph_id: id } },
    }),
  )
}

function useChange<Change>(
  engineId: string,
  visitId: string,
  send: (
    change: Change,
  ) => Promise<{ data?: VisitPhotograph[]; error?: unknown; response: Response }>,
) {
  const queryClient = useQueryClient()
  const { queryKey } = photographsQuery(engineId, visitId)
  return useMutation({
    scope: { id: `photographs ${engineId} ${visitId}` },
    mutationFn: (change: Change) => unwrap(send(change)),
    onSuccess: async (kept) => {
      // A fetch that is under way may have been answered before this was stored.
      await queryClient.cancelQueries({ queryKey })
      queryClient.setQueryData(queryKey, kept)
    },
    // What is there now is what was refused for.
    onError: () => queryClient.invalidateQueries({ queryKey }),
  })
}
