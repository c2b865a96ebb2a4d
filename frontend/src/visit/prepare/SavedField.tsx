import { t } from '@lingui/core/macro'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { ProblemError, restOf, type VisitFields } from '@/api/client'
import { Field } from '@/design/Field'
import { ErrorNotice } from '@/design/Notice'
import { Questions } from '@/shared/Questions'
import { useChangeVisit, visitQuery } from '@/shared/visitQueries'

type Parsed = { value: VisitFields[keyof VisitFields] } | { fault: string }

/** One field of the visit, stored on its own as it is left: two people at two fields never meet. */
export function SavedField({
  engineId,
  visitId,
  field,
  label,
  unit,
  value,
  stored,
  parse,
  type = 'text',
  hint,
  suggestionUnit = '',
}: {
  engineId: string
  visitId: string
  field: keyof VisitFields
  label: string
  unit?: string
  /** As the page shows it. */
  value: string
  /** As the server knows it. */
  stored: VisitFields[keyof VisitFields]
  parse: (text: string) => Parsed
  type?: string
  hint?: string
  suggestionUnit?: string
}) {
  const queryClient = useQueryClient()
  const change = useChangeVisit(engineId, visitId)
  // What is typed and not stored; null while the field shows what is stored.
  const [draft, setDraft] = useState<string | null>(null)
  const [fault, setFault] = useState<string>()
  // What stood there, as far as this page knew, when the draft was last sent.
  const [sentAgainst, setSentAgainst] = useState(stored)
  const refused = change.error instanceof ProblemError ? change.error : undefined
  const asked = refused?.asked ?? false
  // Only once the page knows what others stored can storing mine in its place be meant.
  const mayOverrule = refused?.status === 409 && stored !== sentAgainst
  // Of the change itself, or of the visit that it would make.
  const at = [`$.changes.${field}`, `$.${field}`]
  const refusal = asked ? undefined : at.map((path) => refused?.at(path)).find(Boolean)
  const rest = restOf(change.error, at)

  function save(text: string, confirmed: string[] = []) {
    const parsed = parse(text)
    if ('fault' in parsed) {
      setFault(parsed.fault)
      return
    }
    setSentAgainst(stored)
    change.mutate(
      { changes: { [field]: parsed.value }, was: { [field]: stored }, confirmed },
      {
        onSuccess: () => setDraft(null),
        // What others stored meanwhile is fetched, so that saving once more means it.
        onError: () =>
          void queryClient.invalidateQueries({ queryKey: visitQuery(engineId, visitId).queryKey }),
      },
    )
  }

  return (
    <div
      onKeyDown={(event) => {
        if (event.key === 'Enter' && draft !== null) save(draft)
        if (event.key === 'Escape') {
          setDraft(null)
          setFault(undefined)
          change.reset()
        }
      }}
    >
      <Field
        label={label}
        unit={unit}
        type={type}
        inputMode={unit ? 'decimal' : undefined}
        value={draft ?? value}
        hint={change.isPending ? t`saving…` : draft !== null ? t`Enter saves it` : hint}
        fault={
          fault ??
          (refusal && mayOverrule
            ? t`${refusal}; Enter overwrites it with yours, Escape keeps theirs`
            : refusal)
        }
        onChange={(event) => {
          setFault(undefined)
          change.reset()
          setDraft(event.target.value)
        }}
        onBlur={() => draft !== null && !change.error && save(draft)}
      />
      {asked && (
        <Questions
          error={change.error}
          suggestionText={(figure) => `${figure} ${suggestionUnit}`.trim()}
          onUse={(_, figure) => {
            setDraft(String(figure))
            save(String(figure))
          }}
          onConfirm={(paths) => save(draft ?? value, paths)}
        />
      )}
      {rest && <ErrorNotice error={rest} />}
    </div>
  )
}
