import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { caseAddress, stepAddress } from '@/api/addresses'
import type { EngineDetail, Finding, FindingKind, Visit } from '@/api/client'
import { findingsQuery } from '@/api/queries'
import { buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { TriState, type State } from '@/design/TriState'
import { OpenCase } from '@/shared/OpenCase'
import { PriceLines } from '@/shared/PriceLines'
import { useNoteVisitFinding } from '@/visit/shared/findingQueries'
import { StepPage } from '@/visit/shared/StepPage'
import { QuickChecks } from './QuickChecks'
import { named } from '@/design/names'

/** What the owner complains of, when and since when, in the owner's words; cheaper causes first. */
export function ComplaintPage() {
  return (
    <StepPage at="complaint" title={t`Complaint`}>
      {(detail, visit) => <Listening detail={detail} visit={visit} />}
    </StepPage>
  )
}

function Listening({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { data: kinds, error } = useQuery(findingsQuery)
  const note = useNoteVisitFinding(detail.engine.id, visit.id)
  if (!kinds) return error ? <ErrorNotice error={error} /> : <Loading what={t`the complaints`} />
  const complaints = kinds.filter((kind) => kind.group === 'complaint')
  const noted = new Map(
    visit.findings
      .filter((finding) => !finding.cylinder && !finding.side)
      .map((finding) => [finding.id, finding]),
  )
  const present = complaints.filter((kind) => noted.get(kind.id)?.state === 'present')
  const open = detail.cases.find((one) => one.visit === visit.id && one.closed === null)

  function answer(kind: FindingKind, state: State) {
    const before = noted.get(kind.id)
    note.mutate({
      id: kind.id,
      state,
      when: before?.when,
      onset: before?.onset,
      words: before?.words,
      was: before?.state ?? 'unknown',
    })
  }

  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Complaint`}</h1>
        <div className="flex flex-wrap gap-2">
          {open ? (
            <Link to={caseAddress(detail.engine.id, open.id)} className={buttonClass()}>
              <Trans>Case {open.id}: possible causes</Trans>
            </Link>
          ) : (
            <OpenCase
              engineId={detail.engine.id}
              visitId={visit.id}
              number={detail.cases.length + 1}
            />
          )}
          <Link
            to={stepAddress(detail.engine.id, visit.id, 'prepare')}
            className={buttonClass('main')}
          >
            {t`Next: Prepare`}
          </Link>
        </div>
      </div>
      {note.error && <ErrorNotice error={note.error} />}
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
        <Sheet
          title={t`What is the complaint?`}
          aside={<span className="text-sm text-ink-soft">{t`yes, no, not asked`}</span>}
        >
          <ul className="sm:columns-2 sm:gap-0 sm:[column-rule:1px_solid_var(--color-rule)] *:break-inside-avoid">
            {complaints.map((kind) => (
              <TriState
                key={kind.id}
                name={kind.id}
                label={kind.label}
                help={kind.help}
                state={noted.get(kind.id)?.state ?? 'unknown'}
                onChange={(state) => answer(kind, state)}
              />
            ))}
          </ul>
        </Sheet>
        <div className="flex flex-col gap-4">
          <Sheet title={t`When, since when, customer’s description`}>
            {present.length === 0 ? (
              <p className="p-4 text-ink-soft">{t`Answer yes to a complaint to add details.`}</p>
            ) : (
              <ul>
                {present.map((kind) => (
                  <More
                    key={kind.id}
                    kind={kind}
                    finding={noted.get(kind.id) ?? { id: kind.id, state: 'present' }}
                    onChange={(more) =>
                      note.mutate({
                        ...pick(noted.get(kind.id)),
                        ...more,
                        id: kind.id,
                        state: 'present',
                      })
                    }
                  />
                ))}
              </ul>
            )}
          </Sheet>
          <QuickChecks engine={detail.engine} visit={visit} present={present} />
          <Sheet title={t`Cost of a check`}>
            <PriceLines engineId={detail.engine.id} usage={visit.usage} />
          </Sheet>
        </div>
      </div>
    </>
  )
}

function pick(finding: Finding | undefined) {
  return { when: finding?.when, onset: finding?.onset, words: finding?.words }
}

const WHEN = ['cold', 'warm', 'idle', 'load', 'always', 'comes-and-goes'] as const
const ONSETS = ['sudden', 'gradual', 'after-work'] as const

type MoreOf = Pick<Finding, 'when' | 'onset' | 'words'>

function More({
  kind,
  finding,
  onChange,
}: {
  kind: FindingKind
  finding: Finding
  onChange: (more: MoreOf) => void
}) {
  const [words, setWords] = useState(finding.words ?? '')
  const when = finding.when ?? []
  return (
    <li className="border-b border-rule px-4 py-2 last:border-0">
      <p className="font-semibold">{kind.label}</p>
      <div role="group" aria-label={t`When: ${kind.label}`} className="mt-1 flex flex-wrap gap-1">
        {WHEN.map((one) => (
          <Chip
            key={one}
            text={named(one)}
            pressed={when.includes(one)}
            onPress={() =>
              onChange({
                when: when.includes(one) ? when.filter((other) => other !== one) : [...when, one],
              })
            }
          />
        ))}
        <span aria-hidden="true" className="mx-1 border-l border-rule-strong" />
        {ONSETS.map((one) => (
          <Chip
            key={one}
            text={named(one)}
            pressed={finding.onset === one}
            onPress={() => onChange({ onset: finding.onset === one ? null : one })}
          />
        ))}
      </div>
      <input
        aria-label={t`Customer’s description: ${kind.label}`}
        placeholder={t`customer’s description`}
        maxLength={500}
        value={words}
        onChange={(event) => setWords(event.target.value)}
        onBlur={() => words !== (finding.words ?? '') && onChange({ words: words || null })}
        className="mt-1 min-h-10 w-full rounded-card border border-rule bg-paper px-2 italic placeholder:text-ink-soft"
      />
    </li>
  )
}

function Chip({ text, pressed, onPress }: { text: string; pressed: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={pressed}
      onClick={onPress}
      className={`min-h-10 rounded-card border border-rule-strong px-2.5 ${
        pressed ? 'bg-ink font-semibold text-paper' : 'bg-sheet'
      }`}
    >
      {text}
    </button>
  )
}
