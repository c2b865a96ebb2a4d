import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { PracticeReview, PracticeRun } from '@/api/client'
import { length, fixed } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { TextWithMark } from './TextWithMark'

const HEAD = 'py-1 pr-3 text-left font-normal text-ink-soft'

/** The same mistake at several valves is said once. */
function gathered(mistakes: PracticeReview['mistakes']) {
  return [...new Set(mistakes.map((one) => one.words))].map((words) => {
    const alike = mistakes.filter((one) => one.words === words)
    return {
      words,
      valves: [...new Set(alike.map((one) => one.valve))],
      steps: alike.flatMap((one) => (one.step === null ? [] : [one.step])),
    }
  })
}

/** The look back: the truth, what was asked and met, tries against the advice, what was done out of order. */
export function ReviewSheet({ run, review }: { run: PracticeRun; review: PracticeReview }) {
  const { unit } = usePreferences()
  const where = review.where.length > 0 ? t`, at ${review.where.join(' ')}` : ''
  return (
    <Sheet
      title={run.lesson ? (review.passed ? t`Passed` : t`Not passed yet`) : t`True values`}
      className="mb-4"
    >
      <div className="grid gap-4 px-4 py-3 lg:grid-cols-2">
        <div className="flex flex-col gap-2">
          <p>
            <Trans>
              It was: <strong>{review.cause_label}</strong>
              {where}.{' '}
              {review.cause_right === null
                ? t`You gave no diagnosis.`
                : review.cause_right
                  ? t`Your diagnosis was right.`
                  : t`Your diagnosis was different.`}
            </Trans>
          </p>
          {review.advice && <p>{review.advice}</p>}
          {review.teaches && <p>{review.teaches}</p>}
          <ul aria-label={t`Goals`}>
            {review.goals.map((goal) => (
              <li key={goal.words}>
                <TextWithMark met={goal.met}>{goal.words}</TextWithMark>
              </li>
            ))}
          </ul>
          <p>
            <Trans>
              Blades offered as found: {review.tries}; the recommendation would have needed about{' '}
              {Math.round(review.advised_tries)}.
            </Trans>
          </p>
          {review.mistakes.length > 0 ? (
            <>
              <h3 className="font-semibold">{t`Mistakes`}</h3>
              <ul className="list-disc pl-5 text-[0.95rem]">
                {gathered(review.mistakes).map(({ words, valves, steps }) => (
                  <li key={words}>
                    <strong>{valves.join(' ')}</strong>: {words}
                    {steps.length > 0 && (
                      <span className="text-ink-soft">
                        {' '}
                        <Trans>(step {steps.join(', ')})</Trans>
                      </span>
                    )}
                  </li>
                ))}
              </ul>
            </>
          ) : (
            <p>{t`Nothing was done out of order.`}</p>
          )}
        </div>
        <table className="w-full border-collapse self-start text-sm">
          <caption className="text-left font-semibold">{t`Valve by valve`}</caption>
          <thead>
            <tr className="border-b border-ink">
              {[t`valve`, t`true value`, t`your reading`, t`blades`, t`advice`, t`now`].map(
                (name) => (
                  <th key={name} scope="col" className={HEAD}>
                    {name}
                  </th>
                ),
              )}
            </tr>
          </thead>
          <tbody>
            {review.valves.map((one) => (
              <tr key={one.valve} className="border-b border-rule">
                <th scope="row" className="py-1 pr-3 text-left">
                  {one.valve}
                </th>
                <td className="py-1 pr-3">
                  {one.was_mm <= 0 ? t`none` : length(one.was_mm, unit)}, {one.truly}
                </td>
                <td className="py-1 pr-3">
                  {one.verdict === null ? (
                    t`not measured`
                  ) : one.right === null ? (
                    t`open`
                  ) : (
                    <TextWithMark met={one.right}>{one.verdict}</TextWithMark>
                  )}
                </td>
                <td className="py-1 pr-3">{one.tries}</td>
                <td className="py-1 pr-3">{fixed(one.advised_tries, 1)}</td>
                <td className="py-1">
                  <TextWithMark met={one.in_spec_now}>
                    {one.is_mm <= 0 ? t`none` : length(one.is_mm, unit)}
                  </TextWithMark>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Sheet>
  )
}
