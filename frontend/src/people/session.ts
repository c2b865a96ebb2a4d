import { t } from '@lingui/core/macro'
import { queryOptions, useQuery } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'
import { api, unwrap, type Person } from '@/api/client'

export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: () => unwrap(api.GET('/api/session')),
  staleTime: 60_000,
})

export const peopleQuery = queryOptions({
  queryKey: ['session', 'people'],
  queryFn: () => unwrap(api.GET('/api/people')),
})

const CHOSEN = 'pronostico.technician'
const listeners = new Set<() => void>()

function chosenId(): string | null {
  return localStorage.getItem(CHOSEN)
}

/** Whoever works at this device from now on; null: whoever is signed in. */
export function chooseTechnician(id: string | null) {
  if (id === null) localStorage.removeItem(CHOSEN)
  else localStorage.setItem(CHOSEN, id)
  for (const listener of listeners) listener()
}

// Every change says who made it: the one at work, where several share a device.
api.use({
  onRequest({ request }) {
    const id = chosenId()
    if (id !== null && request.method !== 'GET') request.headers.set('X-Technician', id)
    return request
  },
})

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  window.addEventListener('storage', listener)
  return () => {
    listeners.delete(listener)
    window.removeEventListener('storage', listener)
  }
}

/** Who is at work at this device: the one chosen, else the one signed in; undefined where nobody is known. */
export function useAtWork(): { atWork: Person | undefined; people: Person[] } {
  const { data } = useQuery(sessionQuery)
  const chosen = useSyncExternalStore(subscribe, chosenId)
  const people = data?.people ?? []
  return { atWork: people.find((one) => one.id === chosen) ?? data?.person ?? undefined, people }
}

/** Whether an owner is here: the one signed in, or whoever sits at this machine where nobody signs in. */
export function useIsOwner(): boolean {
  const { data } = useQuery(sessionQuery)
  return data !== undefined && (!data.on_network || data.person?.role === 'owner')
}

/** What this device is called until somebody names it. */
export function deviceName(): string {
  const agent = navigator.userAgent
  if (/iPad|Android(?!.*Mobile)/.test(agent)) return t`Tablet`
  return /iPhone|Mobile/.test(agent) ? t`Phone` : t`Computer`
}
