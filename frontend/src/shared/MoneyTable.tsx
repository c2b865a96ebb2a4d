import type { Money } from '@/api/client'

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
              {one.each === null ? 'price not entered' : one.each.toFixed(2)}
            </td>
            <td className={cell}>{one.amount === null ? '–' : one.amount.toFixed(2)}</td>
          </tr>
        ))}
        {tax !== null && (
          <>
            <Sum label="net" value={net.toFixed(2)} />
            <Sum label={`tax ${percent} %`} value={tax.toFixed(2)} />
          </>
        )}
        <Sum
          strong
          label={missing.length > 0 ? 'total, without what has no price' : 'total'}
          value={`${total.toFixed(2)} ${currency}`}
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
