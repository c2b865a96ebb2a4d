import { t } from '@lingui/core/macro'
import type { Key } from './screens'

/** Keys and what they do. */
export function KeyTable({ keys }: { keys: Key[] }) {
  return (
    <table className="mt-3 w-full border-collapse">
      <caption className="text-left font-semibold">{t`Keys`}</caption>
      <tbody>
        {keys.map((one) => (
          <tr key={one.keys.join() + one.does} className="border-t border-rule">
            <th scope="row" className="w-44 py-1 text-left font-normal">
              {one.keys.map((key) => (
                <kbd
                  key={key}
                  className="mr-1 rounded-card border border-rule-strong bg-paper px-1.5 font-sans"
                >
                  {key}
                </kbd>
              ))}
            </th>
            <td className="py-1">{one.does}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
