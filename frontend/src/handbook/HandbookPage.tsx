import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { useSearchParams } from 'react-router'
import type { Handbook } from '@/api/client'
import { handbookQuery } from '@/api/queries'
import { Field } from '@/design/Field'
import { percent } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { HandbookTabs } from './HandbookTabs'
import { Learned } from './Learned'
import { SaidAndFound } from './SaidAndFound'

/** What is known of causes, findings and tests, to be read and searched without any engine. */
export function HandbookPage() {
  const { data, error } = useQuery(handbookQuery)
  useTitle(t`Handbook`)
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the handbook`} />
  return <Pages book={data} />
}

function includes(words: string[], ...parts: (string | null | undefined)[]): boolean {
  const text = parts.join(' ').toLowerCase()
  return words.every((word) => text.includes(word))
}

function Pages({ book }: { book: Handbook }) {
  const [choice, setChoice] = useSearchParams()
  // The address follows what is typed; it comes too late to be what the field shows.
  const [typed, setTyped] = useState(choice.get('find') ?? '')
  const words = useDeferredValue(typed).toLowerCase().split(/\s+/).filter(Boolean)
  const causes = book.causes.filter((one) =>
    includes(words, one.label, one.help, one.advice, ...one.links.map((link) => link.label)),
  )
  const findings = book.findings.filter((one) => includes(words, one.label, one.help))
  const tests = book.tests.filter((one) => includes(words, one.label, one.help, ...one.shows))
  return (
    <div className="mx-auto max-w-[1400px]">
      <HandbookTabs />
      <div className="mb-3 flex flex-wrap items-end justify-between gap-4">
        <div>
          <h1>{t`Handbook`}</h1>
          <p className="text-sm text-ink-soft">
            {t`Every cause, finding and test, as the product uses them. It advises: the maker’s manual comes first.`}
          </p>
        </div>
        <div className="w-72">
          <Field
            label={t`Search`}
            type="search"
            value={typed}
            onChange={(event) => {
              setTyped(event.target.value)
              setChoice(event.target.value ? { find: event.target.value } : {}, { replace: true })
            }}
          />
        </div>
      </div>
      {book.fault && (
        <div role="alert" className="mb-4 rounded-card border-2 border-loose bg-sheet px-4 py-2">
          <p className="font-semibold text-loose">
            {t`Your own knowledge files are not used; the built-in ones are`}
          </p>
          <p>{book.fault}</p>
        </div>
      )}
      {book.own_files.length > 0 && (
        <p className="mb-4">
          <Trans>Your own knowledge files in use: {book.own_files.join(', ')}.</Trans>
        </p>
      )}
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
        <Sheet title={t`Causes, ${causes.length}`}>
          {causes.map((cause) => (
            <CausePart key={cause.id} cause={cause} />
          ))}
        </Sheet>
        <div className="flex flex-col gap-4">
          <Learned />
          <SaidAndFound />
          <Sheet title={t`Tests, ${tests.length}`}>
            <ul>
              {tests.map((test) => (
                <li key={test.id} className="border-b border-rule px-4 py-2">
                  <strong>{test.label}</strong>, {test.minutes} min. {test.help}
                  <p className="text-sm text-ink-soft">
                    <Trans>shows: {test.shows.join(', ')}</Trans>
                  </p>
                </li>
              ))}
            </ul>
          </Sheet>
          <Sheet title={t`Findings, ${findings.length}`}>
            <ul>
              {findings.map((finding) => (
                <li key={finding.id} id={finding.id} className="border-b border-rule px-4 py-2">
                  <strong>{finding.label}</strong>. {finding.help}
                  <p className="text-sm text-ink-soft">
                    <Trans>
                      {finding.speaks_of.length > 0
                        ? t`evidence for: ${finding.speaks_of.join(', ')}`
                        : t`evidence only against the causes it is listed with`}
                      ; without any of these causes in {percent(finding.leak)}
                    </Trans>
                  </p>
                </li>
              ))}
            </ul>
          </Sheet>
        </div>
      </div>
    </div>
  )
}

const PLACES = {
  valve: t`at a valve`,
  cylinder: t`at a cylinder`,
  side: t`on a side`,
  engine: t`of the whole engine`,
}

function CausePart({ cause }: { cause: Handbook['causes'][number] }) {
  const against = cause.links.filter((link) => link.says === 'against')
  return (
    <article id={cause.id} className="border-b border-rule px-4 py-3">
      <h3 className="font-semibold">
        {cause.label}{' '}
        <span className="font-normal text-ink-soft">
          <Trans>
            {PLACES[cause.place]}, {percent(cause.prior)} prior at each
          </Trans>
          {cause.prior.toFixed(3) !== cause.stated_prior.toFixed(3) &&
            t` (${percent(cause.stated_prior)} built in)`}
        </span>
      </h3>
      <p>{cause.help}</p>
      <p className="font-semibold">{cause.advice}</p>
      {cause.caution && (
        <p className="my-1 border-l-4 border-loose px-3 font-semibold text-loose">
          {cause.caution}
        </p>
      )}
      <details>
        <summary className="min-h-6 cursor-pointer text-accent underline">
          {t`Evidence for and against`}
        </summary>
        <table className="mt-1 w-full border-collapse text-sm">
          <tbody>
            {cause.links
              .filter((link) => link.says === 'for')
              .map((link) => (
                <tr key={link.finding} className="align-top">
                  <td className="w-24 py-0.5 text-ink-soft">{link.strength}</td>
                  <td className="py-0.5">
                    {link.label}. <span className="text-ink-soft">{link.why}</span>
                    {link.own_share > 0 && link.probability !== null && (
                      <>
                        {' '}
                        <Trans>
                          Now {percent(link.probability)}, {percent(link.own_share)} of that from
                          this workshop.
                        </Trans>
                      </>
                    )}
                  </td>
                </tr>
              ))}
            {against.map((link) => (
              <tr key={link.finding} className="align-top">
                <td className="w-24 py-0.5 text-ink-soft">{t`against`}</td>
                <td className="py-0.5">
                  {link.label}. <span className="text-ink-soft">{link.why}</span>
                </td>
              </tr>
            ))}
            {cause.factors.map((factor) => (
              <tr key={`${factor.of} ${factor.values.join()}`} className="align-top">
                <td className="py-0.5 text-ink-soft">
                  {factor.times > 1 ? t`more likely` : t`less likely`}
                </td>
                <td className="py-0.5">
                  {factor.of}: {factor.values.join(', ')}.{' '}
                  <span className="text-ink-soft">{factor.why}</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </article>
  )
}
