import { t } from '@lingui/core/macro'
import { chooseLanguage, language, LANGUAGES, type Language } from './language'
import { SelectField } from './SelectField'

const CHOICES = Object.entries(LANGUAGES).map(([id, label]) => ({ id: id as Language, label }))

/** The language of this device: each is named in itself, so that it is found from any other. */
export function LanguageChoice({ hint }: { hint?: string }) {
  return (
    <SelectField
      label={t`Language`}
      hint={hint}
      value={language()}
      choices={CHOICES}
      onChange={chooseLanguage}
    />
  )
}
