import type { CostEstimate, Money } from '@/api/client'
import { chance } from '@/design/format'

function moneyText({ title, lines, tax, tax_percent: percent, total, currency, missing }: Money) {
  return [
    `${title}:`,
    ...lines.map(
      ({ what, quantity, unit, amount }) =>
        `  ${what}, ${quantity}${unit && ` ${unit}`}: ${amount === null ? 'price not known yet' : amount.toFixed(2)}`,
    ),
    ...(tax === null ? [] : [`  tax ${percent} %: ${tax.toFixed(2)}`]),
    `  total${missing.length > 0 ? ', without what has no price' : ''}: ${total.toFixed(2)} ${currency}`.trimEnd(),
  ]
}

/** An estimate as the text of a mail. */
export function estimateMail(name: string, { check, check_and_adjust, p_set }: CostEstimate) {
  return [
    `Estimate for the valve check of ${name}`,
    '',
    ...moneyText(check),
    ...(check_and_adjust ? ['', ...moneyText(check_and_adjust)] : []),
    '',
    p_set === null
      ? 'Whether adjusting will be needed is not known before the first check.'
      : `That adjusting will be needed is ${chance(p_set)}.`,
  ].join('\r\n')
}
