import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type PracticeStep, type PracticeTrace, type Phase } from '@/api/client'

export const practiceQuery = (learner: string) =>
  queryOptions({
    queryKey: ['practice', 'lessons', learner],
    queryFn: () => unwrap(api.GET('/api/practice', { params: { query: { learner } } })),
  })

export const runQuery = (runId: string) =>
  queryOptions({
    queryKey: ['practice', 'runs', runId],
    staleTime: Infinity,
    queryFn: () =>
      unwrap(api.GET('/api/practice/runs/{run_id}', { params: { path: { run_id: runId } } })),
  })

export type Begin = {
  id: string
  learner: string
  lesson?: string
  pattern?: string
  fault?: string
}

export function useBeginRun() {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: ({ id, learner, lesson, pattern, fault }: Begin) =>
      unwrap(
        api.PUT('/api/practice/runs/{run_id}', {
          params: { path: { run_id: id } },
          body: {
            learner,
            lesson: lesson ?? null,
            pattern: pattern ?? null,
            fault: fault ?? null,
          },
        }),
      ),
    onSuccess: (run) => queryClient.setQueryData(runQuery(run.id).queryKey, run),
  })
}

const NOTHING = { valve: '', by_deg: 0, target_mm: 0, cause: '' }

/** One thing done after the other: each is sent with how many were done before it. */
export function useRun(runId: string) {
  const queryClient = useQueryClient()
  const key = runQuery(runId).queryKey
  const path = { run_id: runId }
  const number = () => queryClient.getQueryData(key)?.steps ?? 0
  const scope = { id: `practice ${runId}` }
  const onSuccess = (run: Awaited<ReturnType<typeof sendStep>>) =>
    queryClient.setQueryData(key, run)
  const sendStep = (step: PracticeStep) =>
    unwrap(
      api.POST('/api/practice/runs/{run_id}/steps', {
        params: { path },
        body: { ...NOTHING, ...step, number: number() },
      }),
    )
  const step = useMutation({ scope, mutationFn: sendStep, onSuccess })
  const trace = useMutation({
    scope,
    mutationFn: (body: PracticeTrace) =>
      unwrap(
        api.POST('/api/practice/runs/{run_id}/traces', {
          params: { path },
          body: { ...body, number: number() },
        }),
      ),
    onSuccess,
  })
  const end = useMutation({
    scope,
    mutationFn: () => unwrap(api.POST('/api/practice/runs/{run_id}/end', { params: { path } })),
    onSuccess: async (run) => {
      queryClient.setQueryData(key, run)
      await queryClient.invalidateQueries({ queryKey: ['practice', 'lessons'] })
    },
  })
  const hint = useMutation({
    mutationFn: ({ valve, phase }: { valve: string; phase: Phase }) =>
      unwrap(
        api.GET('/api/practice/runs/{run_id}/hint', { params: { path, query: { valve, phase } } }),
      ),
  })
  return { step, trace, end, hint }
}
