import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, unwrap, type BoxedShim, type CountIn } from '@/api/client'
import { shimBoxQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'
import { typedShimMm } from '@/design/typedLength'
import { fixed } from '@/design/format'

/** The workshop's shims: how many of each size; valves that are set take from it and give back to it. */
export function ShimBox() {
  const { data, error } = useQuery(shimBoxQuery)
  const queryClient = useQueryClient()
  const put = useMutation({
    scope: { id: 'shim box' },
    mutationFn: (body: CountIn) => unwrap(api.PUT('/api/shim-box', { body })),
    onSuccess: (box) => queryClient.setQueryData(shimBoxQuery.queryKey, box),
    onError: () => queryClient.invalidateQueries({ queryKey: shimBoxQuery.queryKey }),
  })
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the shim box`} />
  const count = data.reduce((sum, one) => sum + one.count, 0)
  return (
    <Sheet
      title={t`Shim box`}
      aside={
        <span className="text-sm text-ink-soft">
          <Trans>
            {count} in {data.length} sizes
          </Trans>
        </span>
      }
    >
      {put.error && <ErrorNotice error={put.error} />}
      {data.length === 0 && (
        <p className="px-4 pt-3 text-ink-soft">
          {t`Empty. Add a size below; shims removed from valves are added as you adjust.`}
        </p>
      )}
      {diameters(data).map(({ diameter, shims }) => (
        <section key={diameter ?? 0} aria-label={diameterText(diameter)}>
          <h3 className="px-4 pt-2 text-sm text-ink-soft">{diameterText(diameter)}</h3>
          <ul className="grid grid-cols-1 gap-x-6 px-4 sm:grid-cols-2">
            {shims.map((shim) => (
              <Size key={shim.shim_mm} shim={shim} onCount={(body) => put.mutate(body)} />
            ))}
          </ul>
        </section>
      ))}
      <NewSize known={data} onCount={(body) => put.mutate(body)} />
    </Sheet>
  )
}

function diameterText(diameter: number | null): string {
  return diameter === null ? t`diameter not entered` : t`diameter ${diameter} mm`
}

function diameters(box: BoxedShim[]) {
  const known = [...new Set(box.map((one) => one.diameter_mm ?? null))]
  return known.map((diameter) => ({
    diameter,
    shims: box.filter((one) => (one.diameter_mm ?? null) === diameter),
  }))
}

function Size({ shim, onCount }: { shim: BoxedShim; onCount: (body: CountIn) => void }) {
  const { shim_mm, diameter_mm, count } = shim
  const name = `${fixed(shim_mm, 3)} mm`
  const to = (next: number | null) => onCount({ shim_mm, diameter_mm, count: next, was: count })
  return (
    <li className="flex min-h-12 items-center gap-2 border-b border-rule">
      <strong className="w-24">{name}</strong>
      <span className={`flex-1 ${count === 0 ? 'text-loose' : ''}`}>
        {count === 0 ? t`none left` : count}
      </span>
      <Button
        className="px-3!"
        aria-label={t`One ${name} less`}
        disabled={count === 0}
        onClick={() => to(count - 1)}
      >
        −
      </Button>
      <Button className="px-3!" aria-label={t`One ${name} more`} onClick={() => to(count + 1)}>
        +
      </Button>
      {count === 0 && (
        <Button
          look="quiet"
          className="px-2!"
          aria-label={t`Remove ${name}`}
          onClick={() => to(null)}
        >
          {t`remove`}
        </Button>
      )}
    </li>
  )
}

function NewSize({ known, onCount }: { known: BoxedShim[]; onCount: (body: CountIn) => void }) {
  const [typed, setTyped] = useState({ shim: '', diameter: '', count: '1' })
  const [checked, setChecked] = useState(false)
  const shim = typedShimMm(typed.shim) ?? null
  const diameter = typedFigure(typed.diameter)
  const count = typedFigure(typed.count)
  const fault = {
    shim: shim === null || shim < 0.1 || shim > 10 ? t`from 0.1 to 10 mm` : undefined,
    diameter:
      typed.diameter.trim() !== '' && (diameter === null || diameter < 1 || diameter > 100)
        ? t`from 1 to 100 mm, or empty`
        : undefined,
    count: count === null || count < 0 || !Number.isInteger(count) ? t`a whole number` : undefined,
  }

  function submit(event: FormEvent) {
    event.preventDefault()
    setChecked(true)
    if (shim === null || count === null || fault.shim || fault.diameter || fault.count) return
    const there = known.find(
      (one) => Math.abs(one.shim_mm - shim) < 5e-5 && (one.diameter_mm ?? null) === diameter,
    )
    onCount({
      shim_mm: shim,
      diameter_mm: diameter,
      count: count + (there?.count ?? 0),
      was: there?.count ?? null,
    })
    setTyped({ ...typed, shim: '' })
    setChecked(false)
  }

  const field = (name: keyof typeof typed, label: string, unit?: string) => (
    <Field
      label={label}
      unit={unit}
      inputMode="decimal"
      value={typed[name]}
      fault={checked ? fault[name] : undefined}
      onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
    />
  )
  return (
    <form
      onSubmit={submit}
      noValidate
      className="grid grid-cols-2 gap-3 p-4 sm:grid-cols-[1fr_1fr_1fr_auto]"
    >
      {field('shim', 'Thickness', 'mm')}
      {field('diameter', 'Diameter', 'mm')}
      {field('count', 'Quantity')}
      <Button type="submit" className="mt-6 self-start">
        {t`Add`}
      </Button>
    </form>
  )
}
