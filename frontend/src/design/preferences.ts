import { createContext, useContext } from 'react'
import type { LengthUnit } from './format'

export type Theme = 'light' | 'dark'

export type Preferences = {
  theme: Theme
  setTheme: (theme: Theme) => void
  unit: LengthUnit
  setUnit: (unit: LengthUnit) => void
}

export const PreferencesContext = createContext<Preferences | null>(null)

export function usePreferences(): Preferences {
  const preferences = useContext(PreferencesContext)
  if (!preferences) throw new Error('no PreferencesProvider above')
  return preferences
}
