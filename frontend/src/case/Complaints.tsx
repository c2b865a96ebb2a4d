import { useState } from 'react'
import type { Case, FindingKind } from '@/api/client'
import { Field } from '@/design/Field'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { TriState } from '@/design/TriState'
import { useNoteFinding } from './queries'

const GROUPS = [
  { group: 'complaint', heading: 'Complaints' },
  { group: 'looking-in', heading: 'Looking in' },
  { group: 'starting', heading: 'Starting and sound' },
  { group: 'mixture', heading: 'Plug and mixture' },
  { group: 'cylinder', heading: 'Cylinder' },
]

const SHORT = new Set(['complaint', 'looking-in'])

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
  const [typed, setTyped] = useState('')
  const pending = note.isPending ? note.variables : undefined
  const noted = new Map(
    open.findings
      .filter((finding) => !finding.cylinder && !finding.side)
      .map((finding) => [finding.id, finding]),
  )
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  // Without a word typed the long lists of tests show what was noted of them.
  const fitting = (group: string) =>
    findings.filter((kind) => {
      if (kind.group !== group) return false
      if (words.length === 0) return SHORT.has(group) || noted.has(kind.id)
      const text = `${kind.label} ${kind.help}`.toLowerCase()
      return words.every((word) => text.includes(word))
    })
  return (
    <div className="flex flex-col gap-4">
      {note.error && <ErrorNotice error={note.error} />}
      <Field
        label="Find what was seen or heard"
        type="search"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      {GROUPS.filter(({ group }) => fitting(group).length > 0).map(({ group, heading }) => (
        <Sheet
          key={group}
          title={heading}
          aside={<span className="text-sm text-ink-soft">yes, no, not asked</span>}
        >
          <ul>
            {fitting(group).map((kind) => (
              <TriState
                key={kind.id}
                name={kind.id}
                label={kind.label}
                help={kind.help}
                state={
                  pending?.id === kind.id ? pending.state : (noted.get(kind.id)?.state ?? 'unknown')
                }
                onChange={(state) => note.mutate({ id: kind.id, state })}
              >
                {noted.get(kind.id)?.words && (
                  <p className="pb-1 text-sm text-ink-soft italic">“{noted.get(kind.id)?.words}”</p>
                )}
              </TriState>
            ))}
          </ul>
        </Sheet>
      ))}
    </div>
  )
}
