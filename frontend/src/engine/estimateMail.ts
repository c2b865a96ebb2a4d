import { t } from '@lingui/core/macro'
import type { CostEstimate, Money } from '@/api/client'
import { chance, fixed } from '@/design/format'

function moneyText({ title, lines, tax, tax_percent: percent, total, currency, missing }: Money) {
  return [
    `${title}:`,
    ...lines.map(
      ({ what, quantity, unit, amount }) =>
        `  ${what}, ${quantity}${unit && ` ${unit}`}: ${amount === null ? t`price not known yet` : fixed(amount, 2)}`,
    ),
    ...(tax === null ? [] : [`  ${t`tax ${percent ?? 0} %`}: ${fixed(tax, 2)}`]),
    `  ${missing.length > 0 ? t`total, without what has no price` : t`total`}: ${fixed(total, 2)} ${currency}`.trimEnd(),
  ]
}

/** An estimate as the text of a mail. */
export function estimateMail(name: string, { check, check_and_adjust, p_set }: CostEstimate) {
  return [
    t`Estimate for the valve check of ${name}`,
    '',
    ...moneyText(check),
    ...(check_and_adjust ? ['', ...moneyText(check_and_adjust)] : []),
    '',
    p_set === null
      ? t`Whether adjusting will be needed is not known before the first check.`
      : t`That adjusting will be needed is ${chance(p_set)}.`,
  ].join('\r\n')
}
