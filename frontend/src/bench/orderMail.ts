import type { OrderedPart } from '@/api/client'

/** An order as the text of a mail, a line a part. */
export function mailText(parts: OrderedPart[]): string {
  const lines = parts.map(({ count, what, diameter_mm: diameter }) => {
    const size = diameter === null ? '' : `, diameter ${diameter} mm`
    return `${count} x ${what}${size}`
  })
  return ['Please send:', '', ...lines, ''].join('\r\n')
}
