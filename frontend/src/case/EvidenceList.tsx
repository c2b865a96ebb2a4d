import { t } from '@lingui/core/macro'
import { useState } from 'react'
import { Button } from '@/design/Button'
import { factor } from '@/design/format'
import type { EvidenceRow } from './evidence'

const FIRST = 11

/** What was found, where threads begin: each finding with what it says of the chosen cause. */
export function EvidenceList({
  rows,
  chosen,
}: {
  rows: EvidenceRow[]
  chosen: string | undefined
}) {
  const shown = rows.filter(
    (row) => chosen === undefined || row.threads.some((one) => one.cause === chosen),
  )
  const [all, setAll] = useState(false)
  if (shown.length === 0) {
    return <p className="px-4 py-2 text-ink-soft">{t`No evidence yet. Enter the complaint.`}</p>
  }
  return (
    <>
      <ul>
        {shown.slice(0, all ? undefined : FIRST).map((row) => {
          const weight = row.threads.find((one) => one.cause === chosen)?.decibans
          return (
            <li
              key={row.key}
              data-evidence={row.key}
              className="flex justify-between gap-2 border-b border-rule px-4 py-1 leading-tight last:border-0"
            >
              <span>
                {row.label}
                {row.where && <span className="text-ink-soft">, {row.where}</span>}
              </span>
              {weight !== undefined && (
                <span className={weight < 0 ? 'text-loose' : 'text-accent'}>{factor(weight)}</span>
              )}
            </li>
          )
        })}
      </ul>
      {shown.length > FIRST && (
        <Button look="quiet" onClick={() => setAll(!all)}>
          {all ? t`Show the strongest` : t`${shown.length - FIRST} more, weaker`}
        </Button>
      )}
    </>
  )
}
