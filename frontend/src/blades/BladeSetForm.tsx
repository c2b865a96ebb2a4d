import { t } from '@lingui/core/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, newId, ProblemError, unwrap, withoutSent, type BladeSet } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { ErrorNotice } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'

type Printed = BladeSet['unit']

const PRINTED: { id: Printed; label: string; example: string }[] = [
  { id: 'mm', label: t`millimetres`, example: t`0.05 to 0.50 by 0.05, or 0.04 0.05 0.08 …` },
  { id: 'thou', label: 'thou', example: t`2 to 20 by 1, or 1.5 2 3 …` },
  { id: 'both', label: t`both, as mm/thou`, example: '0.051/2 0.102/4 0.152/6 …' },
]

/** A whole set of blades in one line, as one would say it; new, or in place of one that is there. */
export function BladeSetForm({
  set,
  submitText,
  onKept,
  onLeave,
}: {
  set?: BladeSet
  submitText: string
  onKept: (kept: BladeSet) => void
  onLeave?: () => void
}) {
  const { unit } = usePreferences()
  const [printed, setPrinted] = useState<Printed>(set?.unit ?? unit)
  const [name, setName] = useState(set?.name ?? '')
  const [text, setText] = useState(set?.text ?? '')
  // As it was when this form was opened.
  const [shown] = useState(set)
  // Made once, so that sending it twice keeps one set.
  const [id, setId] = useState(() => set?.id ?? `set-${newId().slice(0, 8)}`)
  const queryClient = useQueryClient()
  const keep = useMutation({
    mutationFn: (sent: { name: string; text: string }) =>
      unwrap(
        api.PUT('/api/blade-sets/{set_id}', {
          params: { path: { set_id: id } },
          body: {
            name: sent.name.trim() || t`My feeler gauges`,
            text: sent.text,
            unit: printed,
            was: shown ? { name: shown.name, text: shown.text, unit: shown.unit } : null,
          },
        }),
      ),
    onSuccess: async (kept, sent) => {
      await queryClient.invalidateQueries({ queryKey: ['blade-sets'] })
      if (!set) {
        setId(`set-${newId().slice(0, 8)}`)
        setText(withoutSent(sent.text))
        setName(withoutSent(sent.name))
      }
      onKept(kept)
    },
  })
  const fault = keep.error instanceof ProblemError ? keep.error.at('$.text') : undefined

  function submit(event: FormEvent) {
    event.preventDefault()
    keep.mutate({ name, text })
  }

  return (
    <form onSubmit={submit} className="flex flex-col gap-3 p-4" noValidate>
      <fieldset className="flex flex-wrap gap-x-6">
        <legend className="text-sm font-semibold">{t`Marked on the blades`}</legend>
        {PRINTED.map((one) => (
          <label key={one.id} className="flex min-h-11 items-center gap-2">
            <input
              type="radio"
              name={`printed ${id}`}
              className="size-5 accent-accent"
              checked={printed === one.id}
              onChange={() => setPrinted(one.id)}
            />
            {one.label}
          </label>
        ))}
      </fieldset>
      <Field
        label={t`The set, thinnest to thickest`}
        unit={printed === 'both' ? 'mm/thou' : printed}
        value={text}
        onChange={(event) => {
          keep.reset()
          setText(event.target.value)
        }}
        hint={PRINTED.find((one) => one.id === printed)?.example}
        fault={fault}
      />
      <Field
        label={t`Name`}
        value={name}
        maxLength={80}
        placeholder={t`My feeler gauges`}
        onChange={(event) => setName(event.target.value)}
      />
      {keep.error && !fault && <ErrorNotice error={keep.error} />}
      <div className="flex justify-end gap-2">
        {onLeave && (
          <Button look="quiet" onClick={onLeave}>
            {t`Cancel`}
          </Button>
        )}
        <Button look="main" type="submit" disabled={keep.isPending}>
          {submitText}
        </Button>
      </div>
    </form>
  )
}
