import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useRef } from 'react'
import { useNavigate } from 'react-router'
import { engineAddress } from '@/api/addresses'
import { api, unwrap } from '@/api/client'
import { enginesQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'

/** Bring in an engine from a record file; every fault of the file is shown, with its place. */
export function BringIn() {
  const input = useRef<HTMLInputElement>(null)
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
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        className="sr-only"
        tabIndex={-1}
        aria-label="Record file"
        onChange={(event) => {
          const file = event.target.files?.[0]
          if (file) bringIn.mutate(file)
          // The same file may be chosen again once it is mended.
          event.target.value = ''
        }}
      />
      <Button onClick={() => input.current?.click()} disabled={bringIn.isPending}>
        {bringIn.isPending ? 'Reading the record…' : 'Bring in a record'}
      </Button>
      {bringIn.error && <ErrorNotice error={bringIn.error} />}
    </div>
  )
}
