import { t } from '@lingui/core/macro'

/** What can be put on any key: the three answers, and the next valve. */
export type HandAction = 'no-go' | 'drag' | 'free' | 'next'

/** One more key for an action, as the browser names it; letters in capitals. */
export type OwnKeys = Partial<Record<HandAction, string>>

/** Keys that the browser or the page itself needs: leaving a field, or half of another key. */
const NEVER = [
  'Tab',
  'Shift',
  'Control',
  'Alt',
  'AltGraph',
  'Meta',
  'CapsLock',
  'Dead',
  'Unidentified',
]

/** A key by one name, whether or not Shift is held. */
export function keyName(key: string): string {
  return key.length === 1 ? key.toUpperCase() : key
}

/** What a key was put to; undefined where to nothing. */
export function actionOfKey(key: string, keys: OwnKeys): HandAction | undefined {
  const name = keyName(key)
  const found = Object.entries(keys).find(([, kept]) => kept === name)
  return found?.[0] as HandAction | undefined
}

/** Why a key cannot be put to anything; undefined where it can. */
export function keyFault(key: string): string | undefined {
  return NEVER.includes(key) ? t`${key} is needed by the browser; press another key` : undefined
}

/** Put a key to an action, and to no other; null takes the key away. */
export function putKey(keys: OwnKeys, action: HandAction, key: string | null): OwnKeys {
  const name = key === null ? undefined : keyName(key)
  const others = Object.entries(keys).filter(([one, kept]) => one !== action && kept !== name)
  return { ...Object.fromEntries(others), ...(name === undefined ? {} : { [action]: name }) }
}
