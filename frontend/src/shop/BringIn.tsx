import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { engineAddress } from '@/api/addresses'
import { api, unwrap } from '@/api/client'
import { enginesQuery } from '@/api/queries'
import { FileButton } from '@/design/FileButton'
import { ErrorNotice } from '@/design/Notice'

/** Bring in an engine from a record file; every fault of the file is shown, with its place. */
export function BringIn() {
  const navigate = useNavigate()
  const queryClient = useQueryClient()
  const bringIn = useMutation({
    mutationFn: async (file: File) => {
      const text = await file.text()
      return unwrap(
        api.POST('/api/records', {
          body: text as unknown as Record<string, never>,
          // The text goes as it is: broken JSON is told by line and column.
          bodySerializer: (body) => body as unknown as string,
          headers: { 'Content-Type': 'application/json' },
        }),
      )
    },
    onSuccess: async (detail) => {
      await queryClient.invalidateQueries({ queryKey: enginesQuery.queryKey })
      await navigate(engineAddress(detail.engine.id))
    },
  })
  return (
    <div className="flex flex-col items-end gap-2">
      <FileButton
        label="Record file"
        accept=".json,application/json"
        disabled={bringIn.isPending}
        onFile={(file) => bringIn.mutate(file)}
      >
        {bringIn.isPending ? 'Reading the record…' : 'Bring in a record'}
      </FileButton>
      {bringIn.error && <ErrorNotice error={bringIn.error} />}
    </div>
  )
}
