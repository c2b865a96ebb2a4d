import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type InstrumentKind, type TraceIn } from '@/api/client'

export const instrumentsQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'instruments'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/instruments', {
          params: { path: { engine_id: engineId, visit_id: visitId } },
        }),
      ),
  })

/** Keep a trace; with `taken` its figures go into the record. */
export function useKeepTrace(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    scope: { id: `traces ${engineId} ${visitId}` },
    mutationFn: ({ id, ...body }: TraceIn & { id: string }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/instruments/traces/{trace_id}', {
          params: { path: { engine_id: engineId, visit_id: visitId, trace_id: id } },
          body,
        }),
      ),
    onSuccess: (kept, { taken }) => {
      queryClient.setQueryData(instrumentsQuery(engineId, visitId).queryKey, kept)
      if (taken) void queryClient.invalidateQueries({ queryKey: ['engines', engineId] })
    },
  })
}

/** Take a trace's figures out of the record again. */
export function useTakeTraceBack(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    scope: { id: `traces ${engineId} ${visitId}` },
    mutationFn: (id: string) =>
      unwrap(
        api.DELETE(
          '/api/engines/{engine_id}/visits/{visit_id}/instruments/traces/{trace_id}/taken',
          { params: { path: { engine_id: engineId, visit_id: visitId, trace_id: id } } },
        ),
      ),
    onSuccess: (kept) => {
      queryClient.setQueryData(instrumentsQuery(engineId, visitId).queryKey, kept)
      void queryClient.invalidateQueries({ queryKey: ['engines', engineId] })
    },
  })
}

/** A recorded trace, read and checked by the server. */
export function replayed(engineId: string, visitId: string, kind: InstrumentKind, file: File) {
  return unwrap(
    api.POST('/api/engines/{engine_id}/visits/{visit_id}/instruments/{kind}/replay', {
      params: { path: { engine_id: engineId, visit_id: visitId, kind: kind.id } },
      body: file as unknown as string,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { 'Content-Type': 'text/csv' },
    }),
  )
}
