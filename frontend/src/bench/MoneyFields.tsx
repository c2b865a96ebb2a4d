import { t } from '@lingui/core/macro'
import type { WorkshopSettings } from '@/api/client'
import { Field } from '@/design/Field'

const KEYS = ['rate_per_hour', 'currency', 'tax_percent', 'shim_price'] as const
type Key = (typeof KEYS)[number]
export type TypedMoney = Record<Key, string>

/** What the workshop charges, as it is typed. */
export function shownMoney(settings: WorkshopSettings): TypedMoney {
  const text = (value: number | null | undefined) => (value == null ? '' : String(value))
  return {
    rate_per_hour: text(settings.rate_per_hour),
    currency: settings.currency,
    tax_percent: text(settings.tax_percent),
    shim_price: text(settings.shim_price),
  }
}

const FIELDS: Record<Key, { label: string; unit?: string; hint?: string }> = {
  rate_per_hour: { label: t`Rate`, unit: t`per hour`, hint: t`empty: shows minutes only` },
  currency: { label: t`Currency` },
  tax_percent: { label: t`Tax`, unit: '%', hint: t`empty: no tax is shown` },
  shim_price: { label: t`Price of a shim`, hint: t`without tax` },
}

export function MoneyFields({
  typed,
  onChange,
  faultOf,
}: {
  typed: TypedMoney
  onChange: (to: Partial<TypedMoney>) => void
  faultOf: (key: Key) => string | undefined
}) {
  return KEYS.map((key) => (
    <Field
      key={key}
      {...FIELDS[key]}
      inputMode={key === 'currency' ? undefined : 'decimal'}
      maxLength={key === 'currency' ? 8 : undefined}
      value={typed[key]}
      onChange={(event) => onChange({ [key]: event.target.value })}
      fault={faultOf(key)}
    />
  ))
}
