import { t } from '@lingui/core/macro'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { api, newId, unwrap, type HowRecorded, type Phase, type Recordings } from '@/api/client'
import { simulatedSoundAddress } from '@/api/addresses'

const pathOf = (engineId: string, visitId: string) => ({ engine_id: engineId, visit_id: visitId })

export const recordingsQuery = (engineId: string, visitId: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'recordings'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/recordings', {
          params: { path: pathOf(engineId, visitId) },
        }),
      ),
  })

export const soundPictureQuery = (engineId: string, visitId: string, id: string) =>
  queryOptions({
    queryKey: ['engines', engineId, 'visits', visitId, 'recordings', id, 'picture'],
    queryFn: () =>
      unwrap(
        api.GET('/api/engines/{engine_id}/visits/{visit_id}/recordings/{recording_id}/picture', {
          params: { path: { ...pathOf(engineId, visitId), recording_id: id } },
        }),
      ),
  })

/** What was known beside a recording, as far as it was entered. */
export type Beside = HowRecorded & { phase: Phase; note: string }

export type NewRecording = Beside & { id: string; file: Blob; simulated: boolean }

function useKept<Change>(
  engineId: string,
  visitId: string,
  send: (change: Change) => Promise<{ data?: Recordings; error?: unknown; response: Response }>,
) {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: (change: Change) => unwrap(send(change)),
    onSuccess: async (kept) => {
      const { queryKey } = recordingsQuery(engineId, visitId)
      await queryClient.cancelQueries({ queryKey })
      queryClient.setQueryData(queryKey, kept)
      // What a recording says is evidence in the cases of the engine. A sound that was deleted is not asked for.
      const heard = new Set(
        kept.recordings.filter((one) => one.kept).map((one) => one.recording.id),
      )
      void queryClient.invalidateQueries({
        queryKey: ['engines', engineId],
        predicate: ({ queryKey: key }) => key.at(-1) !== 'picture' || heard.has(String(key.at(-2))),
      })
    },
  })
}

export function useAddRecording(engineId: string, visitId: string) {
  return useKept(engineId, visitId, ({ id, file, phase, note, simulated, ...how }: NewRecording) =>
    api.PUT('/api/engines/{engine_id}/visits/{visit_id}/recordings/{recording_id}', {
      params: {
        path: { ...pathOf(engineId, visitId), recording_id: id },
        query: { ...asked(how), phase, note, simulated },
      },
      body: file as unknown as string,
      // The sound goes as it is.
      bodySerializer: (body) => body as unknown as Blob,
      headers: {
        'Content-Type': /^(audio|video)\//.test(file.type) ? file.type : 'application/octet-stream',
      },
    }),
  )
}

function asked(how: HowRecorded) {
  const { rpm, clip, sound_channel, advance_deg, mic_distance_m, revs_raised } = how
  const every = how.spark_every_deg
  return {
    ...(rpm != null && { rpm }),
    ...(clip != null && { clip }),
    ...(sound_channel != null && { sound_channel }),
    ...(advance_deg != null && { advance_deg }),
    ...(mic_distance_m != null && { mic_distance_m }),
    ...(every != null && { spark_every_deg: String(every) as '360' | '720' }),
    revs_raised: revs_raised ?? false,
  }
}

export function useChangeRecording(engineId: string, visitId: string) {
  return useKept(engineId, visitId, ({ id, phase, note, ...how }: Beside & { id: string }) =>
    api.PUT('/api/engines/{engine_id}/visits/{visit_id}/recordings/{recording_id}/how', {
      params: { path: { ...pathOf(engineId, visitId), recording_id: id } },
      body: { phase, note, how },
    }),
  )
}

export function useDeleteRecording(engineId: string, visitId: string) {
  return useKept(engineId, visitId, ({ id, soundOnly }: { id: string; soundOnly: boolean }) =>
    api.DELETE('/api/engines/{engine_id}/visits/{visit_id}/recordings/{recording_id}', {
      params: {
        path: { ...pathOf(engineId, visitId), recording_id: id },
        query: { sound_only: soundOnly },
      },
    }),
  )
}

/** What the simulated microphone hears of the engine, ready to be kept. */
export async function simulatedRecording(
  engineId: string,
  visitId: string,
): Promise<{ id: string; file: Blob; rpm: number; clip: number | null }> {
  const answer = await fetch(simulatedSoundAddress(engineId, visitId))
  if (!answer.ok) {
    const problem = (await answer.json().catch(() => undefined)) as { detail?: string } | undefined
    throw new Error(problem?.detail ?? t`the simulated microphone does not answer`)
  }
  const clip = Number(answer.headers.get('simulated-clip'))
  return {
    id: newId(),
    file: await answer.blob(),
    rpm: Number(answer.headers.get('simulated-rpm')),
    clip: clip > 0 ? clip : null,
  }
}
