import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import type { ComparedState } from '@/api/addresses'
import { analysisQuery } from '@/api/queries'
import { day } from '@/design/format'
import { SelectField } from '@/design/SelectField'

const WHEN: { id: ComparedState['when']; label: string }[] = [
  { id: 'found', label: t`as found` },
  { id: 'after', label: t`after the work` },
]

/** One of the two states: an engine, a visit, as found or after the work. */
export function StateChoice({
  label,
  state,
  engines,
  onChange,
}: {
  label: string
  state: ComparedState
  engines: { id: string; label: string }[]
  onChange: (state: ComparedState) => void
}) {
  const analysis = useQuery(analysisQuery(state.engine))
  const visits = analysis.data?.valves[0]?.history ?? []
  const known = visits.some((one) => one.visit === state.visit)
  const last = visits.at(-1)
  return (
    <fieldset className="flex flex-col gap-2 rounded-card border border-rule bg-sheet p-3">
      <legend className="px-1 font-semibold">{label}</legend>
      {engines.length > 1 && (
        <SelectField
          label={t`Engine`}
          value={state.engine}
          choices={engines}
          onChange={(engine) => onChange({ engine, visit: '', when: 'after' })}
        />
      )}
      <div className="grid gap-2 sm:grid-cols-2">
        <SelectField
          label={t`Visit`}
          value={known ? state.visit : ''}
          choices={[
            ...(known ? [] : [{ id: '', label: t`choose a visit` }]),
            ...visits.map((one) => ({ id: one.visit, label: `${one.visit}, ${day(one.date)}` })),
          ]}
          onChange={(visit) => onChange({ ...state, visit })}
        />
        <SelectField
          label={t`Clearances`}
          value={state.when}
          choices={WHEN}
          onChange={(when) => onChange({ ...state, when })}
        />
      </div>
      {analysis.data && !last && (
        <p className="text-ink-soft">{t`This engine has no visit to compare with yet.`}</p>
      )}
    </fieldset>
  )
}
