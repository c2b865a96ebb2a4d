import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, unwrap } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { SelectField } from '@/design/SelectField'
import { sessionQuery, useIsOwner } from '@/people/session'

/** A QR code that signs one device in, once. */
export function Pairing() {
  const { data: session } = useQuery(sessionQuery)
  const owner = useIsOwner()
  const own = session?.person?.id ?? ''
  const [chosen, setChosen] = useState('')
  const whose = chosen || own
  const pair = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST('/api/people/{person_id}/pairing', { params: { path: { person_id: whose } } }),
      ),
  })
  const people = session?.people ?? []
  const name = people.find((one) => one.id === whose)?.name
  return (
    <div className="flex flex-col gap-3 px-4 py-3">
      <div className="flex flex-wrap items-end gap-3">
        {owner && (
          <SelectField
            label={t`For`}
            value={whose}
            choices={people.map((one) => ({ id: one.id, label: one.name }))}
            onChange={(id) => {
              setChosen(id)
              pair.reset()
            }}
          />
        )}
        <Button look="main" onClick={() => pair.mutate()} disabled={pair.isPending || !whose}>
          {pair.data ? t`New code` : t`Pair a device`}
        </Button>
      </div>
      {pair.error && <ErrorNotice error={pair.error} />}
      {pair.data && (
        <div className="flex flex-wrap items-start gap-4" role="status">
          {/* Black on white in both themes: a camera reads nothing else as well. */}
          <img
            src={`data:image/svg+xml;utf8,${encodeURIComponent(pair.data.qr)}`}
            alt={t`QR code of the pairing link`}
            className="w-56 border border-rule bg-white"
          />
          <div className="min-w-48 flex-1">
            <p>
              <Trans>
                Read it with the camera of the device. It signs one device in as <b>{name}</b>,
                once, within {pair.data.minutes} minutes.
              </Trans>
            </p>
            <p className="mt-2 font-mono text-sm break-all">{pair.data.link}</p>
          </div>
        </div>
      )}
    </div>
  )
}
