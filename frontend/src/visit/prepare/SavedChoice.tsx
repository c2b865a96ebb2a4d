import type { VisitFields } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { useChangeVisit } from '@/shared/visitQueries'

/** One of a few, stored as it is chosen. */
export function SavedChoice({
  engineId,
  visitId,
  field,
  label,
  value,
  choices,
}: {
  engineId: string
  visitId: string
  field: keyof VisitFields
  label: string
  value: string
  choices: { id: string; label: string }[]
}) {
  const change = useChangeVisit(engineId, visitId)
  const shown = change.isPending ? change.variables.changes[field] : value
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="text-sm font-semibold">{label}</legend>
      <div className="flex flex-wrap gap-x-5">
        {choices.map((one) => (
          <label key={one.id} className="flex min-h-11 items-center gap-2">
            <input
              type="radio"
              name={field}
              className="size-5 accent-accent"
              checked={shown === one.id}
              onChange={() =>
                change.mutate({ changes: { [field]: one.id }, was: { [field]: value } })
              }
            />
            {one.label}
          </label>
        ))}
      </div>
      {change.error && <ErrorNotice error={change.error} />}
    </fieldset>
  )
}
