import { t } from '@lingui/core/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { api, done } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { Empty, ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { deviceName } from './session'

/** Where a pairing link leads: one press signs this device in. */
export function PairPage() {
  useTitle(t`Pair this device`)
  const code = useLocation().hash.slice(1)
  const [device, setDevice] = useState(deviceName())
  const queryClient = useQueryClient()
  const navigate = useNavigate()
  const pair = useMutation({
    mutationFn: () => done(api.POST('/api/session/link', { body: { code, device } })),
    onSuccess: async () => {
      await queryClient.resetQueries()
      await navigate('/', { replace: true })
    },
  })
  if (code === '') {
    return (
      <Empty>
        {t`This address has no code in it. Open the link, or read its QR code with the camera, as the Bench page shows it.`}
      </Empty>
    )
  }
  return (
    <form
      className="mx-auto mt-4 max-w-md md:mt-12"
      onSubmit={(event) => {
        event.preventDefault()
        pair.mutate()
      }}
    >
      <Sheet title={t`Pair this device`}>
        <div className="flex flex-col gap-3 px-4 py-4">
          <p>{t`It stays signed in until it is signed out, or was not used for 30 days.`}</p>
          <Field
            label={t`Name of this device`}
            maxLength={80}
            value={device}
            onChange={(event) => setDevice(event.target.value)}
          />
          <Button type="submit" look="main" disabled={pair.isPending} className="min-h-16">
            {t`Pair`}
          </Button>
          {pair.error && <ErrorNotice error={pair.error} />}
        </div>
      </Sheet>
    </form>
  )
}
