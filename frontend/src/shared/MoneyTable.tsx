import { t } from '@lingui/core/macro'
import type { Money } from '@/api/client'
import { fixed } from '@/design/format'

/** Lines of an estimate or an account, and what they come to. */
export function MoneyTable({ money }: { money: Money }) {
  const { lines, net, tax, tax_percent: percent, total, currency, missing } = money
  const cell = 'py-1 pr-4 text-right whitespace-nowrap'
  return (
    <table className="w-full border-collapse">
      <tbody>
        {lines.map((one, at) => (
          <tr key={at} className="border-b border-rule">
            <td className="py-1 pr-4">{one.what}</td>
            <td className={cell}>
              {one.quantity} {one.unit}
            </td>
            <td className={cell}>
              {one.each === null ? t`price not entered` : fixed(one.each, 2)}
            </td>
            <td className={cell}>{one.amount === null ? '–' : fixed(one.amount, 2)}</td>
          </tr>
        ))}
        {tax !== null && (
          <>
            <Sum label={t`net`} value={fixed(net, 2)} />
            <Sum label={t`tax ${percent ?? 0} %`} value={fixed(tax, 2)} />
          </>
        )}
        <Sum
          strong
          label={missing.length > 0 ? t`total, without what has no price` : t`total`}
          value={`${fixed(total, 2)} ${currency}`}
        />
      </tbody>
    </table>
  )
}

function Sum({ label, value, strong = false }: { label: string; value: string; strong?: boolean }) {
  return (
    <tr className={strong ? 'font-bold' : ''}>
      <td className="py-1 pr-4" colSpan={3}>
        {label}
      </td>
      <td className="py-1 pr-4 text-right whitespace-nowrap">{value}</td>
    </tr>
  )
}
