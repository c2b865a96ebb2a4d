import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, done, unwrap } from '@/api/client'
import { Button } from '@/design/Button'
import { moment } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { Pairing } from './Pairing'

const networkQuery = queryOptions({
  queryKey: ['session', 'network'],
  queryFn: () => unwrap(api.GET('/api/network')),
})
const devicesQuery = queryOptions({
  queryKey: ['session', 'devices'],
  queryFn: () => unwrap(api.GET('/api/devices')),
})

/** Phones and tablets: how they reach the workshop, which are signed in, and how another one is paired. */
export function Devices() {
  const { data: network, error } = useQuery(networkQuery)
  return (
    <Sheet title={t`Phones and tablets`}>
      {error && <ErrorNotice error={error} />}
      {network?.links.length === 0 && (
        <p className="px-4 py-3">
          <Trans>
            The application is served on this machine alone. Started with{' '}
            <code className="font-mono whitespace-nowrap">pronostico serve --lan</code> it is
            encrypted, other devices of the workshop’s network reach it, and everybody signs in.
          </Trans>
        </p>
      )}
      {network && network.links.length > 0 && (
        <>
          <SignedInDevices />
          <Pairing />
          <div className="border-t border-rule px-4 py-3 text-sm">
            <p>{t`Without the camera, type one of these into the other device’s browser:`}</p>
            <ul className="font-mono">
              {network.links.map((link) => (
                <li key={link} className="break-all">
                  {link}
                </li>
              ))}
            </ul>
            {network.authority && (
              <Authority address={network.authority} fingerprint={network.fingerprint} />
            )}
          </div>
        </>
      )}
    </Sheet>
  )
}

function Authority({ address, fingerprint }: { address: string; fingerprint: string | null }) {
  return (
    <div className="mt-2">
      <p>
        <Trans>
          A device warns of the connection until it trusts{' '}
          <a href={address}>this workshop’s certificate</a>: open it there and install it, after
          comparing its SHA-256:
        </Trans>
      </p>
      <p className="font-mono text-xs break-all">{fingerprint}</p>
    </div>
  )
}

function SignedInDevices() {
  const { data: devices = [], error } = useQuery(devicesQuery)
  const queryClient = useQueryClient()
  const end = useMutation({
    mutationFn: (id: string) =>
      done(api.DELETE('/api/devices/{device_id}', { params: { path: { device_id: id } } })),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: ['session'] }),
  })
  return (
    <>
      <ul>
        {devices.map((one) => (
          <li
            key={one.id}
            className="flex flex-wrap items-center gap-x-3 border-b border-rule px-4 py-1"
          >
            <span className="flex-1">
              <span className={one.this ? 'font-semibold' : ''}>{one.device}</span>
              {one.this && t` (this one)`}
              <span className="block text-sm text-ink-soft">
                <Trans>
                  {one.person}, last used {moment(one.used_at)}
                </Trans>
              </span>
            </span>
            <Button look="quiet" onClick={() => end.mutate(one.id)} disabled={end.isPending}>
              {t`Sign out`}
            </Button>
          </li>
        ))}
      </ul>
      {(error ?? end.error) && <ErrorNotice error={error ?? end.error} />}
    </>
  )
}
