import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { opened } from '@/api/outbox'
import { i18n } from '@lingui/core'
import { I18nProvider } from '@lingui/react'
import { App } from './App'
import { applyTheme, storedTheme } from './preferences'

applyTheme(storedTheme())
// What waits to be sent is part of what the pages show.
await opened
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <I18nProvider i18n={i18n}>
      <App />
    </I18nProvider>
  </StrictMode>,
)
