import { chosenLanguage, speak } from '@/design/language'
import '@/design/tokens.css'

// Sentences are looked up as modules are loaded: first the language, then all that says something.
await speak(chosenLanguage())
await import('@/app/start')
