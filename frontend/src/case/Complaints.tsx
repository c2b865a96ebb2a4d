import type { Case, Finding, FindingKind } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useNoteFinding } from './queries'

const STATES: { state: Finding['state']; word: string }[] = [
  { state: 'present', word: 'yes' },
  { state: 'absent', word: 'no' },
  { state: 'unknown', word: '?' },
]
const SPOKEN: Record<Finding['state'], string> = {
  present: 'yes',
  absent: 'no',
  unknown: 'not asked',
}
const GROUPS = [
  { group: 'complaint', heading: 'Complaints' },
  { group: 'looking-in', heading: 'Looking in' },
]

/** What was complained of and seen: yes, no, or not asked; what was not asked says nothing. */
export function Complaints({
  engineId,
  open,
  findings,
}: {
  engineId: string
  open: Case
  findings: FindingKind[]
}) {
  const note = useNoteFinding(engineId, open.id)
  const pending = note.isPending ? note.variables : undefined
  const noted = new Map(
    open.findings
      .filter((finding) => !finding.cylinder && !finding.side)
      .map((finding) => [finding.id, finding]),
  )
  return (
    <div className="flex flex-col gap-4">
      {note.error && <ErrorNotice error={note.error} />}
      {GROUPS.map(({ group, heading }) => (
        <Sheet
          key={group}
          title={heading}
          aside={<span className="text-sm text-ink-soft">yes, no, not asked</span>}
        >
          <ul>
            {findings
              .filter((kind) => kind.group === group)
              .map((kind) => (
                <FindingRow
                  key={kind.id}
                  kind={kind}
                  words={noted.get(kind.id)?.words ?? null}
                  state={
                    pending?.id === kind.id
                      ? pending.state
                      : (noted.get(kind.id)?.state ?? 'unknown')
                  }
                  onChange={(state) => note.mutate({ id: kind.id, state })}
                />
              ))}
          </ul>
        </Sheet>
      ))}
    </div>
  )
}

function FindingRow({
  kind,
  state,
  words,
  onChange,
}: {
  kind: FindingKind
  state: Finding['state']
  words: string | null
  onChange: (state: Finding['state']) => void
}) {
  return (
    <li className="border-b border-rule px-4 py-1 last:border-0">
      <fieldset className="flex items-center justify-between gap-2" title={kind.help}>
        <legend className="sr-only">{kind.label}</legend>
        <span aria-hidden="true" className={state === 'present' ? 'font-semibold' : ''}>
          {kind.label}
        </span>
        <span className="flex">
          {STATES.map((one) => (
            <label
              key={one.state}
              className={`flex min-h-10 min-w-10 cursor-pointer items-center justify-center border border-rule px-1.5 has-focus-visible:outline-3 has-focus-visible:outline-accent ${
                state !== one.state
                  ? 'bg-sheet text-ink-soft'
                  : one.state === 'unknown'
                    ? 'bg-rule font-semibold'
                    : 'bg-ink font-semibold text-paper'
              }`}
            >
              <input
                type="radio"
                className="sr-only"
                name={kind.id}
                checked={state === one.state}
                onChange={() => onChange(one.state)}
                aria-label={SPOKEN[one.state]}
              />
              <span aria-hidden="true">{one.word}</span>
            </label>
          ))}
        </span>
      </fieldset>
      {words && <p className="pb-1 text-sm text-ink-soft italic">“{words}”</p>}
    </li>
  )
}
