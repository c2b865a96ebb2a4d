import { t } from '@lingui/core/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { caseAddress } from '@/api/addresses'
import { api, numberedId, unwrap } from '@/api/client'
import { Button } from '@/design/Button'
import { today } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'

/** Open a case on this engine and go to it. */
export function OpenCase({
  engineId,
  visitId,
  number,
}: {
  engineId: string
  visitId: string | null
  number: number
}) {
  const navigate = useNavigate()
  const queryClient = useQueryClient()
  const open = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST('/api/engines/{engine_id}/cases', {
          params: { path: { engine_id: engineId } },
          body: { id: numberedId('c', number), opened: today(), visit: visitId },
        }),
      ),
    onSuccess: async (made) => {
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      await navigate(caseAddress(engineId, made.id))
    },
  })
  return (
    <>
      <Button onClick={() => open.mutate()} disabled={open.isPending}>
        {t`New case`}
      </Button>
      {open.error && <ErrorNotice error={open.error} />}
    </>
  )
}
