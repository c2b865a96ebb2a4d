import { t } from '@lingui/core/macro'

/** Fields as a technician calls them; others are called as they are written. */
const NAMES: Record<string, string> = {
  blades_mm: t`blade`,
  felt: t`felt`,
  crank_turn: t`turn of the crank`,
}
const UNITS: [RegExp, string][] = [
  [/_mm$/, 'mm'],
  [/_c$/, '°C'],
  [/_kpa$/, 'kPa'],
  [/_deg$/, '°'],
]

function valueText(value: unknown): string {
  if (Array.isArray(value)) return value.map(valueText).join(' + ')
  if (typeof value === 'object' && value !== null) return fieldsText(value)
  return String(value)
}

function fieldsText(fields: object): string {
  return Object.entries(fields)
    .filter(
      ([, value]) => value !== null && value !== '' && !(Array.isArray(value) && !value.length),
    )
    .map(([field, value]) => {
      const [, unit] = UNITS.find(([ending]) => ending.test(field)) ?? []
      const bare = unit === undefined ? field : field.replace(/_[a-z]+$/, '')
      const name = NAMES[field] ?? bare.replaceAll('_', ' ')
      return `${name} ${valueText(value)}${unit === undefined ? '' : ` ${unit}`}`
    })
    .join(', ')
}

/** What came with a change, in words; as it is where it cannot be read. */
export function enteredText(sent: string): string {
  try {
    const fields: unknown = JSON.parse(sent)
    return typeof fields === 'object' && fields !== null ? fieldsText(fields) : sent
  } catch {
    return sent
  }
}
