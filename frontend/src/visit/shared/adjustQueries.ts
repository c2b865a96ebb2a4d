import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import {
  api,
  unwrap,
  type Felt,
  type AdjustStep,
  type AdjustmentChoice,
  type SettingIn,
  type ShimSeen,
  type ValvePart,
} from '@/api/client'
import { shimBoxQuery } from '@/api/queries'
import { withPartsOf } from '@/api/visitChanges'
import { changeKey, isLast, useShowAtOnce } from '@/shared/visitQueries'

const path = (engineId: string, visitId: string) => ({ engine_id: engineId, visit_id: visitId })

export const settingQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'setting'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/setting', {
          params: { path: path(engineId, visitId) },
        }),
      ),
  })

/** What the Adjust step answers with takes its place at once; what follows from it is old. */
function useKeepStop(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  const { queryKey } = settingQuery(engineId, visitId)
  return {
    keep: (stop: AdjustStep) => {
      queryClient.setQueryData(queryKey, stop)
      void queryClient.invalidateQueries({ queryKey: ['engines', engineId, 'visits'] })
      void queryClient.invalidateQueries({ queryKey: shimBoxQuery.queryKey })
      void queryClient.invalidateQueries({ queryKey: ['engines'], refetchType: 'none' })
    },
    fetchAnew: () => queryClient.invalidateQueries({ queryKey }),
  }
}

export function useChoose(engineId: string, visitId: string) {
  const { keep, fetchAnew } = useKeepStop(engineId, visitId)
  return useMutation({
    scope: { id: `setting ${engineId} ${visitId}` },
    mutationFn: (body: { choice: AdjustmentChoice; was: AdjustmentChoice }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/setting', {
          params: { path: path(engineId, visitId) },
          body,
        }),
      ),
    onSuccess: keep,
    onError: fetchAnew,
  })
}

export function useNoteSetting(engineId: string, visitId: string) {
  const { keep } = useKeepStop(engineId, visitId)
  return useMutation({
    scope: { id: `setting ${engineId} ${visitId}` },
    mutationFn: ({ id, ...body }: SettingIn & { id: string }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/settings/{setting_id}', {
          params: { path: { ...path(engineId, visitId), setting_id: id } },
          body,
        }),
      ),
    onSuccess: keep,
  })
}

export function useTakeBackSetting(engineId: string, visitId: string) {
  const { keep } = useKeepStop(engineId, visitId)
  return useMutation({
    scope: { id: `setting ${engineId} ${visitId}` },
    mutationFn: (id: string) =>
      unwrap(
        api.DELETE('/api/engines/{engine_id}/visits/{visit_id}/settings/{setting_id}', {
          params: { path: { ...path(engineId, visitId), setting_id: id } },
        }),
      ),
    onSuccess: keep,
  })
}

type LockUp = {
  settingId: string
  index: number
  set_with_mm: number[]
  blades_mm: number[]
  felt: Felt
}

export function useLockUp(engineId: string, visitId: string) {
  const { keep, fetchAnew } = useKeepStop(engineId, visitId)
  return useMutation({
    scope: { id: `setting ${engineId} ${visitId}` },
    mutationFn: ({ settingId, index, ...body }: LockUp) =>
      unwrap(
        api.PUT(
          '/api/engines/{engine_id}/visits/{visit_id}/settings/{setting_id}/lock-ups/{index}',
          { params: { path: { ...path(engineId, visitId), setting_id: settingId, index } }, body },
        ),
      ),
    onSuccess: keep,
    onError: fetchAnew,
  })
}

export function useTakeBackLockUp(engineId: string, visitId: string) {
  const { keep } = useKeepStop(engineId, visitId)
  return useMutation({
    scope: { id: `setting ${engineId} ${visitId}` },
    mutationFn: ({ settingId, index }: Pick<LockUp, 'settingId' | 'index'>) =>
      unwrap(
        api.DELETE(
          '/api/engines/{engine_id}/visits/{visit_id}/settings/{setting_id}/lock-ups/{index}',
          { params: { path: { ...path(engineId, visitId), setting_id: settingId, index } } },
        ),
      ),
    onSuccess: keep,
  })
}

export function useSeeShim(engineId: string, visitId: string) {
  const { keep, fetchAnew } = useKeepStop(engineId, visitId)
  return useMutation({
    scope: { id: `setting ${engineId} ${visitId}` },
    mutationFn: ({ valve, ...body }: { valve: string; seen: ShimSeen; was: ShimSeen }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/valves/{valve}/shim', {
          params: { path: { ...path(engineId, visitId), valve } },
          body,
        }),
      ),
    onSuccess: keep,
    onError: fetchAnew,
  })
}

/** Which parts of one valve were changed: shown at once, so that several can be ticked off in one go. */
export function usePartsChanged(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  const atOnce = useShowAtOnce(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    scope: { id: `visit ${engineId} ${visitId}` },
    mutationFn: ({ valve, ...body }: { valve: string; parts: ValvePart[]; was: ValvePart[] }) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/parts-changed/{valve}', {
          params: { path: { ...path(engineId, visitId), valve } },
          body,
        }),
      ),
    onMutate: ({ valve, parts }) =>
      atOnce.show((visit) => ({ parts_changed: withPartsOf(visit.parts_changed, valve, parts) })),
    onError: atOnce.fetchAnew,
    onSuccess: (stop) => {
      if (!isLast(queryClient, engineId, visitId)) return
      queryClient.setQueryData(settingQuery(engineId, visitId).queryKey, stop)
      return queryClient.invalidateQueries({ queryKey: ['engines', engineId] })
    },
  })
}
