import { useCallback, useMemo, useState, type ReactNode } from 'react'
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

function storedUnit(): LengthUnit {
  return localStorage.getItem(UNIT_KEY) === 'thou' ? 'thou' : 'mm'
}

export function PreferencesProvider({ children }: { children: ReactNode }) {
  const [theme, keepTheme] = useState(storedTheme)
  const [unit, keepUnit] = useState(storedUnit)
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
