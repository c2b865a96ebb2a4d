import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type SheetChoices, type SheetRole } from '@/api/client'

/** What is said of a spreadsheet beside what is found in it; columns by role, counted from nought. */
export type Chosen = Omit<SheetChoices, 'column'> & { columns?: Partial<Record<SheetRole, number>> }

function query({ columns, ...rest }: Chosen): SheetChoices {
  if (columns === undefined) return rest
  return {
    ...rest,
    column: Object.entries(columns).map(([role, index]) => `${role}:${index}`),
  }
}

const sent = (file: File) => ({
  body: file as unknown as string,
  bodySerializer: (body: unknown) => body as Blob,
  headers: { 'Content-Type': 'text/csv' },
})

/** What a spreadsheet would bring; asked again with each choice, the answer before kept meanwhile. */
export function useSheetSeen(engineId: string, file: File | undefined, chosen: Chosen) {
  return useQuery({
    queryKey: ['sheet', engineId, file?.name, file?.size, file?.lastModified, chosen],
    enabled: file !== undefined,
    placeholderData: (before) => before,
    retry: false,
    queryFn: () =>
      unwrap(
        api.POST('/api/engines/{engine_id}/readings-sheet/preview', {
          ...sent(file as File),
          params: { path: { engine_id: engineId }, query: query(chosen) },
        }),
      ),
  })
}

export function useTakeSheet(engineId: string) {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: ({
      file,
      chosen,
      leaveOutFaulty,
    }: {
      file: File
      chosen: Chosen
      leaveOutFaulty: boolean
    }) =>
      unwrap(
        api.POST('/api/engines/{engine_id}/readings-sheet', {
          ...sent(file),
          params: {
            path: { engine_id: engineId },
            query: { ...query(chosen), leave_out_faulty: leaveOutFaulty },
          },
        }),
      ),
    onSuccess: () => queryClient.invalidateQueries(),
  })
}
