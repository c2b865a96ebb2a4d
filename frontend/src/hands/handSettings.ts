import { useSyncExternalStore } from 'react'
import type { OwnKeys } from './keys'

export type HandSettings = {
  tones: boolean
  vibration: boolean
  keys: OwnKeys
  /** Whether a spoken answer needs its prefix even right after the next blade was said aloud. */
  prefixAlways: boolean
}

const KEY = 'pronostico.hands'
const UNSET: HandSettings = { tones: true, vibration: true, keys: {}, prefixAlways: true }

function read(): HandSettings {
  try {
    return { ...UNSET, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<HandSettings>) }
  } catch {
    return UNSET
  }
}

// A habit of the device, not of the workshop: its foot switch and its loudspeaker are its own.
let known = read()
const listeners = new Set<() => void>()

export function handSettings(): HandSettings {
  return known
}

export function changeHandSettings(change: Partial<HandSettings>) {
  known = { ...known, ...change }
  localStorage.setItem(KEY, JSON.stringify(known))
  for (const listener of listeners) listener()
}

export function useHandSettings(): HandSettings {
  return useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, handSettings)
}
