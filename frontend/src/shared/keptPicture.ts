import { useEffect, useMemo, useSyncExternalStore } from 'react'
import { subscribe, waiting } from '@/api/outbox'

/** Where a photograph is to be had: from the server, or from this browser as long as it waits here. */
export function usePictureSource(address: string): string {
  const all = useSyncExternalStore(subscribe, waiting)
  const put = address.replace(/\/picture$/, '')
  const kept = all.find((one) => one.kind === 'request' && one.path.split('?')[0] === put)
  const body = kept?.kind === 'request' && kept.body instanceof Blob ? kept.body : undefined
  const here = useMemo(() => body && URL.createObjectURL(body), [body])
  useEffect(() => () => (here ? URL.revokeObjectURL(here) : undefined), [here])
  return here ?? address
}
