import { defineConfig } from '@lingui/cli'
import { formatter } from '@lingui/format-po'

// The sentence is its own key: what the code says in English is what a translator is given.
export default defineConfig({
  sourceLocale: 'en',
  locales: ['en', 'it'],
  catalogs: [{ path: '<rootDir>/src/locales/{locale}', include: ['src'] }],
  format: formatter({ lineNumbers: false }),
  orderBy: 'message',
})
