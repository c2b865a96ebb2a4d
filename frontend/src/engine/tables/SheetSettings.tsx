import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { SheetSeen } from '@/api/client'
import { Button } from '@/design/Button'
import type { Chosen } from './queries'

const UNITS = {
  mm: 'mm',
  '0.01 mm': t`hundredths of a mm`,
  thou: 'thou',
  inch: t`inches`,
  'by-size': t`by the size of each figure`,
} as const
const DATES = { 'day-first': t`day first (31/01)`, 'month-first': t`month first (01/31)` } as const
const ENCODINGS = { 'utf-8': 'UTF-8', 'utf-16': 'UTF-16', 'windows-1252': 'Windows-1252' } as const
const DELIMITERS = {
  comma: t`comma`,
  semicolon: t`semicolon`,
  tab: t`tab`,
  bar: t`vertical bar`,
} as const

function Choice<Value extends string>({
  label,
  words,
  value,
  onChoose,
}: {
  label: string
  words: Record<Value, string>
  value: Value | null
  onChoose: (value: Value) => void
}) {
  return (
    <label className="flex flex-col text-sm text-ink-soft">
      {label}
      <select
        value={value ?? ''}
        onChange={(event) => onChoose(event.target.value as Value)}
        className={`min-h-11 rounded-card border bg-sheet px-2 text-base text-ink ${value === null ? 'border-loose' : 'border-rule-strong'}`}
      >
        {value === null && <option value="">{t`unknown, select`}</option>}
        {(Object.keys(words) as Value[]).map((one) => (
          <option key={one} value={one}>
            {words[one]}
          </option>
        ))}
      </select>
    </label>
  )
}

/** How the sheet is written, as found out or as chosen; what cannot be told is asked. */
export function SheetSettings({
  seen,
  onChoose,
}: {
  seen: SheetSeen
  onChoose: (change: Chosen) => void
}) {
  const take = (setting: 'unit' | 'dates', value: string) => onChoose({ [setting]: value })
  const words: Record<string, string> = { ...UNITS, ...DATES }
  return (
    <>
      <div className="flex flex-wrap gap-4">
        <Choice
          label={t`numbers without a unit are`}
          words={UNITS}
          value={seen.unit}
          onChoose={(unit) => onChoose({ unit })}
        />
        <Choice
          label={t`dates are written`}
          words={DATES}
          value={seen.dates}
          onChoose={(dates) => onChoose({ dates })}
        />
        {seen.sheets.length > 1 && (
          <label className="flex flex-col text-sm text-ink-soft">
            {t`sheet of the workbook`}
            <select
              value={seen.sheets_read.length === 1 ? seen.sheets_read[0] : ''}
              onChange={(event) => onChoose({ sheet: event.target.value || undefined })}
              className="min-h-11 rounded-card border border-rule-strong bg-sheet px-2 text-base text-ink"
            >
              <option value="">
                {seen.sheets_read.length > 1
                  ? t`all with the same heads: ${seen.sheets_read.join(', ')}`
                  : t`all with the same heads`}
              </option>
              {seen.sheets.map((name) => (
                <option key={name} value={name}>
                  {name}
                </option>
              ))}
            </select>
          </label>
        )}
        {/* A workbook has neither. */}
        {seen.delimiter !== null && (
          <Choice
            label={t`separator`}
            words={DELIMITERS}
            value={seen.delimiter}
            onChoose={(delimiter) => onChoose({ delimiter })}
          />
        )}
        {seen.encoding !== null && (
          <Choice
            label={t`encoding`}
            words={ENCODINGS}
            value={seen.encoding}
            onChoose={(encoding) => onChoose({ encoding })}
          />
        )}
        <p className="flex flex-col text-sm text-ink-soft">
          <Trans>
            decimal sign
            <span className="flex min-h-11 items-center text-base text-ink">
              a {seen.decimal_comma ? t`comma` : t`point`}
            </span>
          </Trans>
        </p>
      </div>
      {seen.not_utf_8 !== null && seen.encoding !== null && (
        <p className="text-sm text-loose">
          <Trans>
            Line {seen.not_utf_8} is not UTF-8, so the sheet is read as {ENCODINGS[seen.encoding]};
            change it if letters look wrong.
          </Trans>
        </p>
      )}
      {seen.ambiguities.map((sdText) => (
        <div
          key={sdText.setting}
          role="alert"
          className="flex flex-wrap items-center gap-3 rounded-card border-2 border-loose p-3"
        >
          <p className="grow">{sdText.message}.</p>
          {sdText.suggestion !== null && (
            <Button onClick={() => take(sdText.setting, sdText.suggestion ?? '')}>
              <Trans>Use {words[sdText.suggestion]}</Trans>
            </Button>
          )}
        </div>
      ))}
    </>
  )
}
