import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import '@/design/tokens.css'
import { opened } from '@/api/outbox'
import { App } from '@/app/App'
import { applyTheme, storedTheme } from '@/app/preferences'

applyTheme(storedTheme())
// What waits to be sent is part of what the pages show.
await opened
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <App />
  </StrictMode>,
)
