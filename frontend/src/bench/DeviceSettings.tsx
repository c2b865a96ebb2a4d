import { t } from '@lingui/core/macro'
import { LanguageChoice } from '@/design/LanguageChoice'
import { usePreferences } from '@/design/preferences'
import { SelectField } from '@/design/SelectField'
import { Sheet } from '@/design/Sheet'

/** How this device speaks and writes. */
export function DeviceSettings() {
  const { unit, setUnit, theme, setTheme } = usePreferences()
  return (
    <Sheet title={t`This device`}>
      <div className="grid gap-3 px-4 py-3 sm:grid-cols-3">
        <LanguageChoice />
        <SelectField
          label={t`Lengths in`}
          value={unit}
          choices={[
            { id: 'mm', label: t`millimetres` },
            { id: 'thou', label: t`thou (thousandths of an inch)` },
          ]}
          onChange={setUnit}
        />
        <SelectField
          label={t`Colours`}
          value={theme}
          choices={[
            { id: 'light', label: t`Light` },
            { id: 'dark', label: t`Dark` },
          ]}
          onChange={setTheme}
        />
      </div>
    </Sheet>
  )
}
