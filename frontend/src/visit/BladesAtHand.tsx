import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, ProblemError, unwrap } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import type { LengthUnit } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'

/** Which blades are at hand: a whole set in one line, as one would say it. */
export function BladesAtHand({ engineId, onDone }: { engineId: string; onDone?: () => void }) {
  const preferences = usePreferences()
  const [unit, setUnit] = useState<LengthUnit>(preferences.unit)
  const [text, setText] = useState('')
  const queryClient = useQueryClient()
  const keep = useMutation({
    mutationFn: () =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/blades', {
          params: { path: { engine_id: engineId } },
          body: { name: 'Blades at hand', text, unit },
        }),
      ),
    onSuccess: async () => {
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      onDone?.()
    },
  })
  const fault = keep.error instanceof ProblemError ? keep.error.at('$.text') : undefined

  function submit(event: FormEvent) {
    event.preventDefault()
    keep.mutate()
  }

  return (
    <Sheet title="Which blades are at hand?" className="mx-auto max-w-2xl">
      <form onSubmit={submit} className="flex flex-col gap-4 p-4" noValidate>
        <Field
          label="The set, thinnest to thickest"
          unit={unit}
          value={text}
          autoFocus
          onChange={(event) => {
            keep.reset()
            setText(event.target.value)
          }}
          hint={
            unit === 'mm'
              ? '0.05 to 0.50 by 0.05, or 0.04 0.05 0.08 …'
              : '2 to 20 by 1, or 1.5 2 3 …'
          }
          fault={fault}
        />
        <fieldset className="flex gap-6">
          <legend className="sr-only">Printed in</legend>
          {(['mm', 'thou'] as const).map((one) => (
            <label key={one} className="flex min-h-11 items-center gap-2">
              <input
                type="radio"
                name="blade-unit"
                className="size-5 accent-accent"
                checked={unit === one}
                onChange={() => setUnit(one)}
              />
              {one === 'mm' ? 'millimetres' : 'thou (thousandths of an inch)'}
            </label>
          ))}
        </fieldset>
        {keep.error && !fault && <ErrorNotice error={keep.error} />}
        <div className="flex justify-end gap-2">
          {onDone && (
            <Button look="quiet" onClick={onDone}>
              Leave it
            </Button>
          )}
          <Button look="main" type="submit" disabled={keep.isPending}>
            Measure with these
          </Button>
        </div>
      </form>
    </Sheet>
  )
}
