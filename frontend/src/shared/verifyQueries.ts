import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import {
  api,
  unwrap,
  type FigureIn,
  type JobCard,
  type Proof,
  type Proved,
  type Recheck,
} from '@/api/client'

const path = (engineId: string, visitId: string) => ({ engine_id: engineId, visit_id: visitId })

export const proofQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'proof'],
    refetchInterval: 5_000,
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/proof', {
          params: { path: path(engineId, visitId) },
        }),
      ),
  })

export const jobCardQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'card'],
    queryFn: (): Promise<JobCard> =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/card', {
          params: { path: path(engineId, visitId) },
        }),
      ),
  })

const changeKey = (engineId: string, visitId: string) => ['change of proof', engineId, visitId]

/** One line of changes: the page shows what the last of them answers with. */
function useChange<Change>(
  engineId: string,
  visitId: string,
  send: (change: Change) => Promise<Proof>,
  atOnce?: (proof: Proof, change: Change) => Proof,
) {
  const queryClient = useQueryClient()
  const { queryKey } = proofQuery(engineId, visitId)
  const mutationKey = changeKey(engineId, visitId)
  return useMutation({
    mutationKey,
    scope: { id: `proof ${engineId} ${visitId}` },
    mutationFn: send,
    onMutate: (change) => {
      if (!atOnce) return
      // A fetch that is under way knows nothing of it yet.
      void queryClient.cancelQueries({ queryKey, exact: true })
      queryClient.setQueryData(
        queryKey,
        (proof: Proof | undefined) => proof && atOnce(proof, change),
      )
    },
    onError: () => void queryClient.invalidateQueries({ queryKey, exact: true }),
    onSuccess: (proof) => {
      if (queryClient.isMutating({ mutationKey }) > 1) return
      queryClient.setQueryData(queryKey, proof)
      void queryClient.invalidateQueries({
        queryKey: ['engines', engineId, 'visits', visitId],
        exact: true,
      })
      void queryClient.invalidateQueries({ queryKey: ['engines'], refetchType: 'none' })
    },
  })
}

export function useTick(engineId: string, visitId: string) {
  return useChange(
    engineId,
    visitId,
    ({ id, done }: { id: string; done: boolean }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/proof/ticks/{item_id}', {
          params: { path: { ...path(engineId, visitId), item_id: id } },
          body: { done },
        }),
      ),
    (proof, { id, done }) => ({
      ...proof,
      ticks: proof.ticks.map((one) => (one.id === id ? { ...one, done } : one)),
    }),
  )
}

export function useProve(engineId: string, visitId: string) {
  return useChange(
    engineId,
    visitId,
    ({ id, ...body }: { id: string; proved: Proved | null; was: Proved | null }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/proof/complaints/{finding_id}', {
          params: { path: { ...path(engineId, visitId), finding_id: id } },
          body,
        }),
      ),
    (proof, { id, proved }) => ({
      ...proof,
      complaints: proof.complaints.map((one) => (one.finding === id ? { ...one, proved } : one)),
    }),
  )
}

export function useNoteFigure(engineId: string, visitId: string) {
  return useChange(engineId, visitId, (body: FigureIn) =>
    unwrap(
      api.PUT('/api/engines/{engine_id}/visits/{visit_id}/proof/figures', {
        params: { path: path(engineId, visitId) },
        body,
      }),
    ),
  )
}

export function useKeepRecheck(engineId: string, visitId: string) {
  return useChange(engineId, visitId, (body: { recheck: Recheck | null; confirmed: string[] }) =>
    unwrap(
      api.PUT('/api/engines/{engine_id}/visits/{visit_id}/proof/recheck', {
        params: { path: path(engineId, visitId) },
        body,
      }),
    ),
  )
}

export function useKeepMinutes(engineId: string, visitId: string) {
  return useChange(engineId, visitId, (minutes: number | null) =>
    unwrap(
      api.PUT('/api/engines/{engine_id}/visits/{visit_id}/proof/minutes', {
        params: { path: path(engineId, visitId) },
        body: { minutes },
      }),
    ),
  )
}
