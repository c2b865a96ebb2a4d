import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { Contradiction } from '@/api/client'

function said(one: Contradiction['first']): string {
  const what = one.present ? one.label : t`not: ${one.label}`
  const where = one.where === null ? '' : `, ${one.where}`
  return `${what}${where} (${one.measured ? t`measured` : t`entered`})`
}

/** Findings that cannot both be true: nothing is thrown away, and somebody has to recheck. */
export function Contradictions({ found }: { found: Contradiction[] }) {
  if (found.length === 0) return null
  return (
    <div role="status" className="rounded-card border border-loose bg-sheet px-4 py-2">
      <p className="font-semibold text-loose">
        {t`These findings contradict each other: check again`}
      </p>
      <ul className="list-disc pl-5">
        {found.map((one) => (
          <li key={`${said(one.first)} ${said(one.second)}`}>
            <Trans>
              {said(one.first)} and {said(one.second)}
            </Trans>
          </li>
        ))}
      </ul>
      <p className="text-sm text-ink-soft">
        {t`Both are kept. Where one was entered and the other measured at the same place, the causes use the one entered.`}
      </p>
    </div>
  )
}
