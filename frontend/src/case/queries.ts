import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import {
  api,
  unwrap,
  type ConfirmedCause,
  type Finding,
  type NotebookEntry,
  type SupposedFinding,
} from '@/api/client'
import type { Place } from './place'

const path = (engineId: string, caseId: string) => ({
  params: { path: { engine_id: engineId, case_id: caseId } },
})

export const caseQuery = (engineId: string, caseId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'cases', caseId],
    queryFn: () =>
      unwrap(api.GET('/api/engines/{engine_id}/cases/{case_id}', path(engineId, caseId))),
  })

export const diagnosisQuery = (engineId: string, caseId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'cases', caseId, 'diagnosis'],
    queryFn: () =>
      unwrap(api.GET('/api/engines/{engine_id}/cases/{case_id}/diagnosis', path(engineId, caseId))),
    // The picture before a tick stays up while the new one is worked out.
    placeholderData: (before) => before,
  })

/** The causes as some findings more would rank them; nothing of it is kept. */
export const whatIfQuery = (engineId: string, caseId: string, supposed: SupposedFinding[]) =>
  queryOptions({
    queryKey: ['engines', engineId, 'cases', caseId, 'diagnosis', supposed],
    queryFn: () =>
      unwrap(
        api.POST('/api/engines/{engine_id}/cases/{case_id}/what-if', {
          ...path(engineId, caseId),
          body: { findings: supposed },
        }),
      ),
    enabled: supposed.length > 0,
    placeholderData: (before) => before,
  })

/** Note a finding at its place; the causes are ranked anew. */
export function useNoteFinding(engineId: string, caseId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    scope: { id: `findings ${engineId} ${caseId}` },
    mutationFn: ({ id, state, cylinder, side }: { id: string; state: Finding['state'] } & Place) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/cases/{case_id}/findings/{finding_id}', {
          params: { path: { engine_id: engineId, case_id: caseId, finding_id: id } },
          body: { state, cylinder, side },
        }),
      ),
    onSuccess: (kept) => {
      queryClient.setQueryData(caseQuery(engineId, caseId).queryKey, kept)
      void queryClient.invalidateQueries({ queryKey: diagnosisQuery(engineId, caseId).queryKey })
      void queryClient.invalidateQueries({ queryKey: ['engines'], exact: true })
    },
  })
}

/** Close the case with what was found, or open it again (null): what it teaches follows. */
export function useOutcome(engineId: string, caseId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: (outcome: { closed: string; confirmed: ConfirmedCause[] } | null) =>
      unwrap(
        outcome === null
          ? api.DELETE('/api/engines/{engine_id}/cases/{case_id}/outcome', path(engineId, caseId))
          : api.PUT('/api/engines/{engine_id}/cases/{case_id}/outcome', {
              ...path(engineId, caseId),
              // It is closed from its open form alone.
              body: { ...outcome, was: null },
            }),
      ),
    onError: () =>
      queryClient.invalidateQueries({ queryKey: caseQuery(engineId, caseId).queryKey }),
    onSuccess: (kept) => {
      queryClient.setQueryData(caseQuery(engineId, caseId).queryKey, kept)
      // Every case is weighed with what this one taught, and so is the handbook.
      void queryClient.invalidateQueries({ queryKey: ['engines'] })
      void queryClient.invalidateQueries({ queryKey: ['handbook'] })
      void queryClient.invalidateQueries({ queryKey: ['lessons'] })
    },
  })
}

export const notebookQuery = (engineId: string, caseId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'cases', caseId, 'notebook'],
    queryFn: () =>
      unwrap(api.GET('/api/engines/{engine_id}/cases/{case_id}/notebook', path(engineId, caseId))),
  })

export type NewEntry = { id: string; text: string; photograph?: File }

/** Note something, or keep a photograph with what stands under it. */
export function useAddEntry(engineId: string, caseId: string) {
  return useNotebookChange(engineId, caseId, ({ id, text, photograph }: NewEntry) => {
    const params = { path: { engine_id: engineId, case_id: caseId, entry_id: id } }
    if (!photograph) {
      return api.PUT('/api/engines/{engine_id}/cases/{case_id}/notebook/{entry_id}', {
        params,
        body: { text },
      })
    }
    return api.PUT('/api/engines/{engine_id}/cases/{case_id}/notebook/{entry_id}/photograph', {
      params: { ...params, query: { text } },
      body: photograph as unknown as string,
      // The picture goes as it is.
      bodySerializer: (body) => body as unknown as Blob,
      headers: { 'Content-Type': photograph.type || 'application/octet-stream' },
    })
  })
}

export function useRemoveEntry(engineId: string, caseId: string) {
  return useNotebookChange(engineId, caseId, (id: string) =>
    api.DELETE('/api/engines/{engine_id}/cases/{case_id}/notebook/{entry_id}', {
      params: { path: { engine_id: engineId, case_id: caseId, entry_id: id } },
    }),
  )
}

function useNotebookChange<Change>(
  engineId: string,
  caseId: string,
  send: (
    change: Change,
  ) => Promise<{ data?: NotebookEntry[]; error?: unknown; response: Response }>,
) {
  const queryClient = useQueryClient()
  return useMutation({
    scope: { id: `notebook ${engineId} ${caseId}` },
    mutationFn: (change: Change) => unwrap(send(change)),
    onSuccess: (kept) => queryClient.setQueryData(notebookQuery(engineId, caseId).queryKey, kept),
  })
}
