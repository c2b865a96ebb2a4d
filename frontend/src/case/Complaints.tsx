import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import type { Case, Finding, FindingKind } from '@/api/client'
import { Field } from '@/design/Field'
import { Sheet } from '@/design/Sheet'
import { TriState, type State } from '@/design/TriState'
import { notedKey, samePlace, type Place } from './place'

const GROUPS = [
  { group: 'complaint', heading: t`Complaints` },
  { group: 'looking-in', heading: t`Inspection` },
  { group: 'starting', heading: t`Starting and sound` },
  { group: 'mixture', heading: t`Plug and mixture` },
  { group: 'cylinder', heading: t`Cylinder` },
]

const SHORT = new Set(['complaint'])

export type Ticks = {
  /** What is shown of a kind at a place: tried out, on its way, or noted. */
  stateOf: (id: string, place: Place) => State
  tick: (id: string, place: Place, state: State) => void
}

/** What was complained of and seen: yes, no, or not asked; what was not asked says nothing. */
export function Complaints({
  open,
  findings,
  at,
  atName,
  ticks,
  disabled,
}: {
  open: Case
  findings: FindingKind[]
  at: Place
  atName: string
  ticks: Ticks
  disabled: boolean
}) {
  const [typed, setTyped] = useState('')
  const noted = new Map<string, Finding>(
    open.findings.map((finding) => [notedKey(finding.id, finding), finding]),
  )
  const here = new Set(
    open.findings
      .filter((finding) =>
        samePlace(at, { cylinder: finding.cylinder ?? undefined, side: finding.side ?? undefined }),
      )
      .map((finding) => finding.id),
  )
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  // Without a word typed the long lists show what was noted of them.
  const fitting = (group: string) =>
    findings.filter((kind) => {
      if (kind.group !== group) return false
      if (words.length === 0) return SHORT.has(group) || here.has(kind.id)
      const text = `${kind.label} ${kind.help}`.toLowerCase()
      return words.every((word) => text.includes(word))
    })
  const groups = GROUPS.filter(({ group }) => fitting(group).length > 0)
  return (
    <fieldset disabled={disabled} className="flex min-w-0 flex-col gap-3">
      <legend className="sr-only">
        <Trans>Seen or heard at {atName}</Trans>
      </legend>
      <Field
        label={t`Find a finding at ${atName}`}
        type="search"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      {groups.length === 0 && (
        <p className="text-ink-soft">{t`No finding matches. The handbook lists them all.`}</p>
      )}
      {groups.map(({ group, heading }) => (
        <Sheet
          key={group}
          title={heading}
          aside={<span className="text-sm text-ink-soft">{t`yes, no, not asked`}</span>}
        >
          <ul>
            {fitting(group).map((kind) => {
              const words = noted.get(notedKey(kind.id, at))?.words
              return (
                <TriState
                  key={kind.id}
                  name={notedKey(kind.id, at)}
                  label={kind.label}
                  help={kind.help}
                  state={ticks.stateOf(kind.id, at)}
                  onChange={(state) => ticks.tick(kind.id, at, state)}
                >
                  {words && <p className="pb-1 text-sm text-ink-soft italic">“{words}”</p>}
                </TriState>
              )
            })}
          </ul>
        </Sheet>
      ))}
    </fieldset>
  )
}
