import { useSyncExternalStore } from 'react'
import { subscribe, waiting, type Waiting } from '@/api/outbox'

function settingOf(one: Waiting): string | undefined {
  // What was refused can be entered anew.
  if (one.refused || one.kind !== 'request' || one.method !== 'PUT') return
  if (!/\/settings\/[^/]+$/.test(one.path)) return
  if (typeof one.body !== 'string') return
  return (JSON.parse(one.body) as { valve?: string }).valve
}

/** The valves of which an adjustment waits on this device: what it comes to only the server can say. */
export function useKeptSettings(engineId: string, visitId: string): ReadonlySet<string> {
  const all = useSyncExternalStore(subscribe, waiting)
  const here = all.filter((one) => one.engineId === engineId && one.visitId === visitId)
  return new Set(here.flatMap((one) => settingOf(one) ?? []))
}
