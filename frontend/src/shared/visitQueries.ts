import { queryOptions, useMutation, useQueryClient, type QueryClient } from '@tanstack/react-query'
import {
  api,
  unwrap,
  type AnsweredValve,
  type Part,
  type PaperLine,
  type Phase,
  type Visit,
  type VisitFields,
} from '@/api/client'
import type { School } from './crankMethod'

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

/** Where to turn the crank; without a school by the one that is kept for the engine. */
export const crankQuery = (engineId: string, school?: School) =>
  queryOptions({
    queryKey: ['engines', engineId, 'crank', school ?? ''],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/crank', {
          params: { path: { engine_id: engineId }, query: school ? { school } : {} },
        }),
      ),
    // A plan that cannot be made stays so until the engine's data change.
    retry: false,
  })

/** Put one valve's new state into the visit that the page holds, and mark what follows from it as old. */
export async function keepAnswered(
  queryClient: QueryClient,
  engineId: string,
  visitId: string,
  { positions, ...measured }: AnsweredValve,
) {
  const { queryKey } = visitQuery(engineId, visitId)
  // A fetch that is under way may have been answered before this was stored.
  await queryClient.cancelQueries({ queryKey, exact: true })
  // The first one: nothing is shown yet that this could be put into.
  if (queryClient.getQueryData(queryKey) === undefined) {
    await queryClient.invalidateQueries({ queryKey, exact: true })
    return
  }
  queryClient.setQueryData(
    queryKey,
    (visit: Visit | undefined) =>
      visit && {
        ...visit,
        positions,
        valves: visit.valves.map((valve) => (valve.valve === measured.valve ? measured : valve)),
      },
  )
  void queryClient.invalidateQueries({ queryKey: ['engines'], refetchType: 'none' })
}

export const visitPath = (engineId: string, visitId: string) => ({
  path: { engine_id: engineId, visit_id: visitId },
})

/**
 * Show what was chosen at once; what the server makes of it takes its place when it answers, and what it
 * refuses is fetched anew.
 */
export function useShowAtOnce(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  const { queryKey } = visitQuery(engineId, visitId)
  return {
    show(change: (visit: Visit) => Partial<Visit>) {
      // A fetch that is under way knows nothing of it yet.
      void queryClient.cancelQueries({ queryKey, exact: true })
      queryClient.setQueryData(
        queryKey,
        (visit: Visit | undefined) => visit && { ...visit, ...change(visit) },
      )
    },
    fetchAnew: () => queryClient.invalidateQueries({ queryKey, exact: true }),
  }
}

/**
 * The visit as the last change left it. On a busy device it is not on the screen yet when the next box is
 * ticked, which adds to it.
 */
export function useVisitNow(engineId: string, shown: Visit): () => Visit {
  const queryClient = useQueryClient()
  return () => queryClient.getQueryData(visitQuery(engineId, shown.id).queryKey) ?? shown
}

/** Everything that changes the visit itself goes by one key, so that the last of several can be told. */
export const changeKey = (engineId: string, visitId: string) => ['change of', engineId, visitId]

export function isLast(queryClient: QueryClient, engineId: string, visitId: string): boolean {
  return queryClient.isMutating({ mutationKey: changeKey(engineId, visitId) }) <= 1
}

/**
 * What a change of the visit answers with is the visit itself, and takes its place at once; unless another
 * change is on its way already, of which this answer knows nothing yet.
 */
export function useKeepVisit(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  return (visit: Visit) => {
    if (!isLast(queryClient, engineId, visitId)) return
    queryClient.setQueryData(visitQuery(engineId, visitId).queryKey, visit)
    void queryClient.invalidateQueries({ queryKey: ['engines'], refetchType: 'none' })
  }
}

type Named = Required<VisitFields>
type VisitChange = { changes: VisitFields; was: VisitFields; confirmed?: string[] }

export function useChangeVisit(engineId: string, visitId: string) {
  const keepVisit = useKeepVisit(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    scope: { id: `visit ${engineId} ${visitId}` },
    mutationFn: ({ changes, was, confirmed = [] }: VisitChange) =>
      unwrap(
        api.PATCH('/api/engines/{engine_id}/visits/{visit_id}', {
          params: visitPath(engineId, visitId),
          // Only what is named is changed; the description of the API cannot say so.
          body: { changes, was, confirmed } as { changes: Named; was: Named; confirmed: string[] },
        }),
      ),
    onSuccess: keepVisit,
  })
}

/** Takes over from the visit before what is not entered yet. */
export function useCopiedPreparation(engineId: string, visitId: string) {
  const keepVisit = useKeepVisit(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    scope: { id: `visit ${engineId} ${visitId}` },
    mutationFn: () =>
      unwrap(
        api.POST('/api/engines/{engine_id}/visits/{visit_id}/preparation-copied', {
          params: visitPath(engineId, visitId),
        }),
      ),
    onSuccess: keepVisit,
  })
}

export function useParts(engineId: string, visitId: string) {
  const keepVisit = useKeepVisit(engineId, visitId)
  const atOnce = useShowAtOnce(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    scope: { id: `visit ${engineId} ${visitId}` },
    mutationFn: (body: { parts: Part[]; was: Part[] }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/parts', {
          params: visitPath(engineId, visitId),
          body,
        }),
      ),
    onMutate: ({ parts }) => atOnce.show(() => ({ parts })),
    onError: atOnce.fetchAnew,
    onSuccess: keepVisit,
  })
}

export function useBladeSet(engineId: string, visitId: string) {
  const keepVisit = useKeepVisit(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    mutationFn: (bladeSet: string) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/blade-set', {
          params: visitPath(engineId, visitId),
          body: { blade_set: bladeSet },
        }),
      ),
    onSuccess: keepVisit,
  })
}

export function useTypeIn(engineId: string, visitId: string) {
  const keepVisit = useKeepVisit(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    mutationFn: (body: { lines: PaperLine[]; confirmed: string[] }) =>
      unwrap(
        api.POST('/api/engines/{engine_id}/visits/{visit_id}/check-sheet', {
          params: visitPath(engineId, visitId),
          body,
        }),
      ),
    onSuccess: keepVisit,
  })
}

export function useChooseSchool(engineId: string, visitId: string) {
  const keepVisit = useKeepVisit(engineId, visitId)
  const atOnce = useShowAtOnce(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    scope: { id: `visit ${engineId} ${visitId}` },
    mutationFn: (school: School) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/school', {
          params: visitPath(engineId, visitId),
          body: { school },
        }),
      ),
    onMutate: (school) => atOnce.show(() => ({ school })),
    onError: atOnce.fetchAnew,
    onSuccess: keepVisit,
  })
}

/** Whether the valve cover is off: what looking under it costs then. */
export function useNoteCover(engineId: string, visitId: string) {
  const keepVisit = useKeepVisit(engineId, visitId)
  const queryClient = useQueryClient()
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    scope: { id: `visit ${engineId} ${visitId}` },
    mutationFn: (off: boolean) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/cover', {
          params: visitPath(engineId, visitId),
          body: { off },
        }),
      ),
    onSuccess: async (visit) => {
      await keepVisit(visit)
      await queryClient.invalidateQueries({ queryKey: ['engines', engineId, 'cases'] })
    },
  })
}

export function useSkip(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: ({ valve, ...body }: { valve: string; phase: Phase; reason: string | null }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/valves/{valve}/skip', {
          params: { path: { engine_id: engineId, visit_id: visitId, valve } },
          body,
        }),
      ),
    onSuccess: (answered) => keepAnswered(queryClient, engineId, visitId, answered),
  })
}
