import { t } from '@lingui/core/macro'
import type { ReactNode } from 'react'
import type { StepName } from '@/api/addresses'
import type { EngineDetail, Visit } from '@/api/client'
import { ErrorNotice, Loading } from '@/design/Notice'
import { useTitle } from '@/design/useTitle'
import { useVisit } from './useVisit'
import { StepLine } from './StepLine'

/** A stop of the work line: the line above, its cautions, and what is done at it. */
export function StepPage({
  at,
  title,
  children,
}: {
  at: StepName
  title: string
  children: (detail: EngineDetail, visit: Visit) => ReactNode
}) {
  const { detail, visit, error } = useVisit()
  useTitle(t`${title}, visit ${visit?.id ?? ''}: ${detail?.engine.name ?? ''}`)
  if (!detail || !visit)
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the visit`} />
  return (
    <div className="mx-auto max-w-[1400px]">
      <StepLine engine={detail.engine} visit={visit} at={at} />
      {children(detail, visit)}
    </div>
  )
}

/** What can hurt someone at this stop, one line each. */
export function Cautions({ detail, step }: { detail: EngineDetail; step: string }) {
  const cautions = detail.cautions.filter((one) => one.step === step)
  if (cautions.length === 0) return null
  return (
    <ul
      aria-label={t`Cautions`}
      className="border-l-6 border-loose bg-sheet px-4 py-2 text-[0.95rem] leading-snug"
    >
      {cautions.map(({ text }) => (
        <li key={text} className="py-0.5">
          {text}
        </li>
      ))}
    </ul>
  )
}
