import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Finding, type Visit } from '@/api/client'
import { withQuickCheck } from '@/api/visitChanges'
import { changeKey, isLast, useShowAtOnce, visitQuery } from '@/shared/visitQueries'

/** A finding as it is to be noted, and the state that the page showed before. */
export type NotedFinding = Pick<Finding, 'id' | 'state'> &
  Partial<Pick<Finding, 'cylinder' | 'side' | 'when' | 'onset' | 'words'>> & {
    was?: Finding['state']
  }

function isSamePlace(a: NotedFinding, b: NotedFinding): boolean {
  return (
    a.id === b.id &&
    (a.cylinder ?? null) === (b.cylinder ?? null) &&
    (a.side ?? null) === (b.side ?? null)
  )
}

export type NotedQuickCheck = {
  id: string
  done: boolean
  seen: string
  was: { done: boolean; seen: string }
}

/** Quick checks, ticked off with what was seen: shown at once. */
export function useNoteQuickCheck(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  const atOnce = useShowAtOnce(engineId, visitId)
  const { queryKey } = visitQuery(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    scope: { id: `quick checks ${engineId} ${visitId}` },
    mutationFn: ({ id, ...body }: NotedQuickCheck) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/quick-checks/{check_id}', {
          params: { path: { engine_id: engineId, visit_id: visitId, check_id: id } },
          body,
        }),
      ),
    onMutate: ({ id, done, seen }) => {
      atOnce.show(({ quick_checks }) => ({
        quick_checks: withQuickCheck(quick_checks, id, done, seen),
      }))
    },
    onError: atOnce.fetchAnew,
    onSuccess: (quick_checks) => {
      if (!isLast(queryClient, engineId, visitId)) return
      queryClient.setQueryData(
        queryKey,
        (visit: Visit | undefined) => visit && { ...visit, quick_checks },
      )
      void queryClient.invalidateQueries({ queryKey, exact: true })
    },
  })
}

export function useNoteVisitFinding(engineId: string, visitId: string) {
  const queryClient = useQueryClient()
  const atOnce = useShowAtOnce(engineId, visitId)
  const { queryKey } = visitQuery(engineId, visitId)
  return useMutation({
    mutationKey: changeKey(engineId, visitId),
    scope: { id: `findings ${engineId} ${visitId}` },
    mutationFn: ({ id, ...body }: NotedFinding) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/findings/{finding_id}', {
          params: { path: { engine_id: engineId, visit_id: visitId, finding_id: id } },
          body,
        }),
      ),
    onMutate: ({ id, state, cylinder, side, when, onset, words }) => {
      const noted = { id, state, cylinder, side, when, onset, words }
      atOnce.show(({ findings }) => ({
        findings: [...findings.filter((one) => !isSamePlace(one, noted)), noted],
      }))
    },
    onError: atOnce.fetchAnew,
    onSuccess: (findings) => {
      if (!isLast(queryClient, engineId, visitId)) return
      queryClient.setQueryData(
        queryKey,
        (visit: Visit | undefined) => visit && { ...visit, findings },
      )
      void queryClient.invalidateQueries({ queryKey: ['engines'], refetchType: 'none' })
      // The answers of changes before this one were passed over: what they changed is fetched.
      void queryClient.invalidateQueries({ queryKey, exact: true })
    },
  })
}
