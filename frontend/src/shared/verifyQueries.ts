import { t } from '@lingui/core/macro'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import {
  api,
  unwrap,
  type FigureIn,
  type JobCard,
  type Verification,
  type Verified,
  type Recheck,
} from '@/api/client'

const path = (engineId: string, visitId: string) => ({ engine_id: engineId, visit_id: visitId })

export const verificationQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'verification'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/verification', {
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

const changeKey = (engineId: string, visitId: string) => [
  t`change of verification`,
  engineId,
  visitId,
]

/** One line of changes: the page shows what the last of them answers with. */
function useChange<Change>(
  engineId: string,
  visitId: string,
  send: (change: Change) => Promise<Verification>,
  atOnce?: (verification: Verification, change: Change) => Verification,
) {
  const queryClient = useQueryClient()
  const { queryKey } = verificationQuery(engineId, visitId)
  const mutationKey = changeKey(engineId, visitId)
  return useMutation({
    mutationKey,
    scope: { id: `verification ${engineId} ${visitId}` },
    mutationFn: send,
    onMutate: (change) => {
      if (!atOnce) return
      // A fetch that is under way knows nothing of it yet.
      void queryClient.cancelQueries({ queryKey, exact: true })
      queryClient.setQueryData(
        queryKey,
        (verification: Verification | undefined) => verification && atOnce(verification, change),
      )
    },
    onError: () => void queryClient.invalidateQueries({ queryKey, exact: true }),
    onSuccess: async (verification) => {
      if (queryClient.isMutating({ mutationKey }) > 1) return
      // A fetch that is under way, after a refusal maybe, may have been answered before this was stored.
      await queryClient.cancelQueries({ queryKey, exact: true })
      queryClient.setQueryData(queryKey, verification)
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
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/verification/ticks/{item_id}', {
          params: { path: { ...path(engineId, visitId), item_id: id } },
          body: { done },
        }),
      ),
    (verification, { id, done }) => ({
      ...verification,
      ticks: verification.ticks.map((one) => (one.id === id ? { ...one, done } : one)),
    }),
  )
}

export function useVerify(engineId: string, visitId: string) {
  return useChange(
    engineId,
    visitId,
    ({ id, ...body }: { id: string; verified: Verified | null; was: Verified | null }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/verification/complaints/{finding_id}', {
          params: { path: { ...path(engineId, visitId), finding_id: id } },
          body,
        }),
      ),
    (verification, { id, verified }) => ({
      ...verification,
      complaints: verification.complaints.map((one) =>
        one.finding === id ? { ...one, verified } : one,
      ),
    }),
  )
}

export function useNoteFigure(engineId: string, visitId: string) {
  return useChange(engineId, visitId, (body: FigureIn) =>
    unwrap(
      api.PUT('/api/engines/{engine_id}/visits/{visit_id}/verification/figures', {
        params: { path: path(engineId, visitId) },
        body,
      }),
    ),
  )
}

export function useKeepRecheck(engineId: string, visitId: string) {
  return useChange(
    engineId,
    visitId,
    (body: { recheck: Recheck | null; was: Recheck | null; confirmed: string[] }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/verification/recheck', {
          params: { path: path(engineId, visitId) },
          body,
        }),
      ),
  )
}

export function useKeepMinutes(engineId: string, visitId: string) {
  return useChange(engineId, visitId, (body: { minutes: number | null; was: number | null }) =>
    unwrap(
      api.PUT('/api/engines/{engine_id}/visits/{visit_id}/verification/minutes', {
        params: { path: path(engineId, visitId) },
        body,
      }),
    ),
  )
}
