import { queryOptions } from '@tanstack/react-query'
import { api, unwrap } from './client'

/** What more than one place asks for: the key and the fetch, written once. */

export const enginesQuery = queryOptions({
  queryKey: ['engines'],
  queryFn: () => unwrap(api.GET('/api/engines')),
})

/** The timelines of the workshop; asked again while something is being computed. */
export const workshopQuery = queryOptions({
  queryKey: ['engines', 'shop'],
  queryFn: () => unwrap(api.GET('/api/workshop')),
  refetchInterval: ({ state }) => (state.data?.calculating ? 700 : false),
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

/** What the drift model says: computed for up to some seconds where something changed. */
export const driftQuery = (engineId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'drift'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/drift', { params: { path: { engine_id: engineId } } }),
      ),
  })

/** What is developing, from the readings alone. */
export const developingFaultsQuery = (engineId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'outlook'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/developing-faults', {
          params: { path: { engine_id: engineId } },
        }),
      ),
  })

/** The other engines of an engine's kind, and what they make expected of it. */
export const sistersQuery = (engineId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'sisters'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/sisters', { params: { path: { engine_id: engineId } } }),
      ),
  })

/** Past forecasts against what was found; asked again while that is being calculated. */
export const forecastReviewQuery = queryOptions({
  queryKey: ['engines', 'forecast-review'],
  queryFn: () => unwrap(api.GET('/api/forecast-review')),
  refetchInterval: ({ state }) => (state.data?.calculating ? 700 : false),
})

/** The kinds that engines of the workshop are of. */
export const kindsQuery = queryOptions({
  queryKey: ['engines', 'kinds'],
  queryFn: () => unwrap(api.GET('/api/kinds')),
})

/** What a demonstration was simulated from; null for every other engine. */
export const simulatedTruthQuery = (engineId: string) =>
  queryOptions({
    queryKey: ['truth', engineId],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/simulated-truth', {
          params: { path: { engine_id: engineId } },
        }),
      ),
    staleTime: Infinity,
  })

export type Asked = {
  valve?: string
  target_mm?: number
  check_at?: number
  interval?: number
}

/** What would be if; the answer before stands until the next one comes. */
export const whatIfQuery = (engineId: string, asked: Asked) =>
  queryOptions({
    queryKey: ['engines', engineId, 'what-if', asked],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/what-if', {
          params: { path: { engine_id: engineId }, query: asked },
        }),
      ),
    enabled: Object.keys(asked).length > 0,
    retry: false,
    placeholderData: (before) => before,
  })

export const priceQuery = (engineId: string, usage?: number) =>
  queryOptions({
    queryKey: ['engines', engineId, 'price', usage ?? null],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/price', {
          params: { path: { engine_id: engineId }, query: usage === undefined ? {} : { usage } },
        }),
      ),
  })

export const bladeSetsQuery = (engineId?: string) =>
  queryOptions({
    queryKey: ['blade-sets', engineId ?? null],
    queryFn: () =>
      unwrap(
        api.GET('/api/blade-sets', {
          params: { query: engineId === undefined ? {} : { engine: engineId } },
        }),
      ),
  })

export const shimBoxQuery = queryOptions({
  queryKey: ['shim-box'],
  queryFn: () => unwrap(api.GET('/api/shim-box')),
})

export const workshopSettingsQuery = queryOptions({
  queryKey: ['shop-settings'],
  queryFn: () => unwrap(api.GET('/api/workshop-settings')),
})

export const formHelpQuery = queryOptions({
  queryKey: ['engine-form'],
  queryFn: () => unwrap(api.GET('/api/engine-form')),
  staleTime: Infinity,
})

export const handbookQuery = queryOptions({
  queryKey: ['handbook'],
  queryFn: () => unwrap(api.GET('/api/handbook')),
  staleTime: Infinity,
})

export const findingsQuery = queryOptions({
  queryKey: ['findings'],
  queryFn: () => unwrap(api.GET('/api/findings')),
  staleTime: Infinity,
})
