import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import '@/design/tokens.css'
import { App } from '@/app/App'
import { applyTheme, storedTheme } from '@/app/preferences'

applyTheme(storedTheme())
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <App />
  </StrictMode>,
)
