import { queryOptions } from '@tanstack/react-query'
import { api, unwrap } from './client'

/** What more than one place asks for: the key and the fetch, written once. */

export const enginesQuery = queryOptions({
  queryKey: ['engines'],
  queryFn: () => unwrap(api.GET('/api/engines')),
})

export const engineQuery = (engineId: string) =>
  queryOptions({
    queryKey: ['engines', engineId],
    queryFn: () =>
      unwrap(api.GET('/api/engines/{engine_id}', { params: { path: { engine_id: engineId } } })),
  })

export const analysisQuery = (engineId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'analysis'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/analysis', { params: { path: { engine_id: engineId } } }),
      ),
  })

export const findingsQuery = queryOptions({
  queryKey: ['findings'],
  queryFn: () => unwrap(api.GET('/api/findings')),
  staleTime: Infinity,
})
