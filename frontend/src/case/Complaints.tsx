import type { Case, FindingKind } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { TriState } from '@/design/TriState'
import { useNoteFinding } from './queries'

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
                <TriState
                  key={kind.id}
                  name={kind.id}
                  label={kind.label}
                  help={kind.help}
                  state={
                    pending?.id === kind.id
                      ? pending.state
                      : (noted.get(kind.id)?.state ?? 'unknown')
                  }
                  onChange={(state) => note.mutate({ id: kind.id, state })}
                >
                  {noted.get(kind.id)?.words && (
                    <p className="pb-1 text-sm text-ink-soft italic">
                      “{noted.get(kind.id)?.words}”
                    </p>
                  )}
                </TriState>
              ))}
          </ul>
        </Sheet>
      ))}
    </div>
  )
}
