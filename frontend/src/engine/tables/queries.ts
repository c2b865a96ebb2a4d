import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type SheetChoices, type SheetRole, type SheetValveRole } from '@/api/client'

export type ValveColumn = {
  index: number
  what: SheetValveRole
  valve: string
}
/** A cell said otherwise: by its line and column. */
export type Correction = { line: number; index: number; text: string }
/** What is said of a spreadsheet beside what is found in it; columns by role, counted from nought. */
export type Chosen = Omit<SheetChoices, 'column' | 'valve_column' | 'correction'> & {
  columns?: Partial<Record<SheetRole, number>>
  valveColumns?: ValveColumn[]
  corrections?: Correction[]
}

function query({ columns, valveColumns, corrections = [], ...rest }: Chosen): SheetChoices {
  return {
    ...rest,
    ...(columns && {
      column: Object.entries(columns).map(([role, index]) => `${role}:${index}`),
    }),
    ...(valveColumns && {
      valve_column: valveColumns.map(({ index, what, valve }) => `${index}:${what}:${valve}`),
    }),
    correction: corrections.map(({ line, index, text }) => `${line}:${index}:${text}`),
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
