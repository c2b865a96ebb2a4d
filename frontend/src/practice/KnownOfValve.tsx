import { t } from '@lingui/core/macro'
import type { PracticeRun } from '@/api/client'
import { ANSWER_WORDS } from '@/blades/answers'
import type { Felt } from '@/blades/bladeChoice'
import { length } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { gapOf, gapText, verdictText } from '@/head-plan/gap'

/** The answers in order, and what they come to. */
export function KnownOfValve({ valve }: { valve: PracticeRun['valves'][number] }) {
  const { unit } = usePreferences()
  const phases = [
    { name: t`as found`, answers: valve.found, says: valve.found_says },
    { name: t`as left`, answers: valve.left, says: valve.left_says },
  ].filter((one) => one.answers.length > 0)
  if (phases.length === 0) return <p className="text-ink-soft">{t`Not measured yet.`}</p>
  return (
    <>
      {phases.map(({ name, answers, says }) => (
        <p key={name}>
          <strong>{name}:</strong>{' '}
          {answers
            .map((one) => {
              const blades = one.blades_mm.map((mm) => length(mm, unit)).join(' + ')
              return `${blades} ${ANSWER_WORDS[one.felt as Felt]}`
            })
            .join('; ')}
          {says && (
            <span className="font-semibold">
              {' '}
              → {gapText(gapOf(says), unit)}, {verdictText(gapOf(says))}
            </span>
          )}
        </p>
      ))}
    </>
  )
}
