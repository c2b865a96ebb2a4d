import { t } from '@lingui/core/macro'
import type { OrderedPart } from '@/api/client'

/** An order as the text of a mail, a line a part. */
export function mailText(parts: OrderedPart[]): string {
  const lines = parts.map(({ count, what, diameter_mm: diameter }) => {
    const size = diameter === null ? '' : t`, diameter ${diameter} mm`
    return `${count} x ${what}${size}`
  })
  return [t`Please send:`, '', ...lines, ''].join('\r\n')
}
