import { i18n, type Messages } from '@lingui/core'

/** The language of the pages: chosen on each device, loaded before anything that says something. */

export const LANGUAGES = { en: 'English', it: 'Italiano' } as const
export type Language = keyof typeof LANGUAGES

const KEY = 'pronostico.language'
// How numbers and days are written; the trade's English is that of Britain.
const LOCALES: Record<Language, string> = { en: 'en-GB', it: 'it-IT' }

const CATALOGUES: Record<Language, () => Promise<{ messages: Messages }>> = {
  en: () => import('@/locales/en.po'),
  it: () => import('@/locales/it.po'),
}

function isLanguage(text: string | null): text is Language {
  return text !== null && text in LANGUAGES
}

/** What was chosen on this device; before that the first of the browser's languages that there is. */
export function chosenLanguage(): Language {
  const chosen = localStorage.getItem(KEY)
  if (isLanguage(chosen)) return chosen
  const wanted = navigator.languages.map((one) => one.slice(0, 2))
  return wanted.find(isLanguage) ?? 'en'
}

/** Choose a language; the pages are loaded again, as sentences are looked up when they are. */
export function chooseLanguage(language: Language) {
  localStorage.setItem(KEY, language)
  window.location.reload()
}

export async function speak(language: Language) {
  const { messages } = await CATALOGUES[language]()
  i18n.loadAndActivate({ locale: language, messages })
  document.documentElement.lang = language
}

/** The language of the pages now. */
export function language(): Language {
  return isLanguage(i18n.locale) ? i18n.locale : 'en'
}

/** An address to listen to, with the language in it: a browser sends no header with it. */
export function inLanguage(address: string): string {
  return `${address}${address.includes('?') ? '&' : '?'}language=${language()}`
}

/** How numbers and days are written now: a language with its country. */
export function locale(): string {
  return LOCALES[language()]
}
