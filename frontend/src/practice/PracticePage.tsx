import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { practiceRunAddress } from '@/api/addresses'
import { newId, type Practice } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { useLearner } from './learner'
import { practiceQuery, useBeginRun, type Begin } from './queries'

/** An engine that does not mind: ten lessons, or free practice on a chosen engine and fault. */
export function PracticePage() {
  useTitle(t`Practice engine`)
  const navigate = useNavigate()
  const [learner, setLearner] = useLearner()
  const [name, setName] = useState(learner)
  const { data, error } = useQuery({
    ...practiceQuery(learner),
    placeholderData: (before) => before,
  })
  const begin = useBeginRun()
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the lessons`} />

  function start(what: Omit<Begin, 'id' | 'learner'>) {
    const id = `p-${newId()}`
    begin.mutate(
      { id, learner, ...what },
      { onSuccess: () => void navigate(practiceRunAddress(id)) },
    )
  }

  const passed = data.lessons.filter((one) => one.passed).length
  return (
    <div className="mx-auto max-w-[1400px]">
      <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <h1>{t`Practice engine`}</h1>
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            if (name.trim()) setLearner(name.trim())
          }}
        >
          <label className="flex flex-col text-sm text-ink-soft">
            {t`learner`}
            <input
              value={name}
              maxLength={80}
              list="learners"
              onChange={(event) => setName(event.target.value)}
              className="min-h-11 rounded-card border border-rule-strong bg-sheet px-3 text-base text-ink"
            />
          </label>
          <datalist id="learners">
            {data.learners.map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
          <Button type="submit" disabled={name.trim() === learner || !name.trim()}>
            {t`OK`}
          </Button>
        </form>
      </div>
      <p className="mb-3">
        {t`An engine with hidden clearances that you can measure and adjust, and get wrong, as often as you like. At the end you see the true values and what was done out of order.`}
      </p>
      {begin.error && <ErrorNotice error={begin.error} />}
      <div className="grid grid-cols-1 items-start gap-4 lg:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]">
        <Sheet
          title={t`Ten lessons`}
          aside={
            <span className="text-sm text-ink-soft">
              <Trans>
                {learner}: {passed} of {data.lessons.length} passed
              </Trans>
            </span>
          }
        >
          <ol>
            {data.lessons.map((lesson) => (
              <Lesson
                key={lesson.id}
                lesson={lesson}
                pending={begin.isPending}
                onBegin={() => start({ lesson: lesson.id })}
              />
            ))}
          </ol>
        </Sheet>
        <FreePractice practice={data} pending={begin.isPending} onBegin={start} />
      </div>
    </div>
  )
}

function Lesson({
  lesson,
  pending,
  onBegin,
}: {
  lesson: Practice['lessons'][number]
  pending: boolean
  onBegin: () => void
}) {
  return (
    <li className="flex items-start gap-3 border-b border-rule px-4 py-2 last:border-0">
      <span
        aria-hidden="true"
        className={`mt-1 flex size-8 shrink-0 items-center justify-center rounded-full border-2 font-semibold ${
          lesson.passed ? 'border-in bg-in text-paper' : 'border-rule-strong'
        }`}
      >
        {lesson.grade}
      </span>
      <div className="min-w-0 grow">
        <h3 className="font-semibold">
          {lesson.title}
          <span className="font-normal text-ink-soft"> · {lesson.engine}</span>
        </h3>
        <p className="text-[0.95rem]">{lesson.task}</p>
        {lesson.runs > 0 && (
          <p className={`text-sm ${lesson.passed ? 'text-in' : 'text-loose'}`}>
            <Trans>
              {lesson.passed ? t`passed` : t`not passed yet`}, tried{' '}
              <Plural value={lesson.runs} one="# time" other="# times" />
            </Trans>
          </p>
        )}
      </div>
      <Button onClick={onBegin} disabled={pending} aria-label={t`Start lesson ${lesson.grade}`}>
        {t`Begin`}
      </Button>
    </li>
  )
}

function FreePractice({
  practice,
  pending,
  onBegin,
}: {
  practice: Practice
  pending: boolean
  onBegin: (what: Omit<Begin, 'id' | 'learner'>) => void
}) {
  const [pattern, setPattern] = useState(practice.engines[0]?.id ?? '')
  const [fault, setFault] = useState('')
  const choice = 'min-h-11 rounded-card border border-rule-strong bg-sheet px-2 text-base text-ink'
  return (
    <Sheet title={t`Free practice`}>
      <div className="flex flex-col gap-3 px-4 py-3">
        <label className="flex flex-col text-sm text-ink-soft">
          {t`engine`}
          <select
            value={pattern}
            onChange={(event) => setPattern(event.target.value)}
            className={choice}
          >
            {practice.engines.map((one) => (
              <option key={one.id} value={one.id}>
                {one.label}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col text-sm text-ink-soft">
          {t`fault`}
          <select
            value={fault}
            onChange={(event) => setFault(event.target.value)}
            className={choice}
          >
            <option value="">{t`random`}</option>
            <option value="none">{t`nothing`}</option>
            {practice.faults.map((one) => (
              <option key={one.id} value={one.id}>
                {one.label}
              </option>
            ))}
          </select>
        </label>
        <Button
          look="main"
          disabled={pending}
          onClick={() => onBegin({ pattern, fault: fault || undefined })}
        >
          {t`Start`}
        </Button>
        <p className="text-sm text-ink-soft">
          {t`On a real engine the manual and local rules come first, and a qualified person decides.`}
        </p>
      </div>
    </Sheet>
  )
}
