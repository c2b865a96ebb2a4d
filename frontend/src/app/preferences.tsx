import { useQuery } from '@tanstack/react-query'
import { useCallback, useMemo, useState, type ReactNode } from 'react'
import { workshopSettingsQuery } from '@/api/queries'
import type { LengthUnit } from '@/design/format'
import { PreferencesContext, type Theme } from '@/design/preferences'

const THEME_KEY = 'pronostico.theme'
const UNIT_KEY = 'pronostico.length-unit'

export function storedTheme(): Theme {
  const stored = localStorage.getItem(THEME_KEY)
  if (stored === 'light' || stored === 'dark') return stored
  return window.matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

export function applyTheme(theme: Theme) {
  document.documentElement.dataset.theme = theme
}

/** What was chosen on this device; null: nothing, so that the workshop's own unit is used. */
function storedUnit(): LengthUnit | null {
  const stored = localStorage.getItem(UNIT_KEY)
  return stored === 'thou' || stored === 'mm' ? stored : null
}

export function PreferencesProvider({ children }: { children: ReactNode }) {
  const [theme, keepTheme] = useState(storedTheme)
  const [chosen, keepUnit] = useState(storedUnit)
  const { data: workshop } = useQuery(workshopSettingsQuery)
  const unit = chosen ?? workshop?.length_unit ?? 'mm'
  const setTheme = useCallback((next: Theme) => {
    localStorage.setItem(THEME_KEY, next)
    applyTheme(next)
    keepTheme(next)
  }, [])
  const setUnit = useCallback((next: LengthUnit) => {
    localStorage.setItem(UNIT_KEY, next)
    keepUnit(next)
  }, [])
  const value = useMemo(
    () => ({ theme, setTheme, unit, setUnit }),
    [theme, setTheme, unit, setUnit],
  )
  return <PreferencesContext value={value}>{children}</PreferencesContext>
}
