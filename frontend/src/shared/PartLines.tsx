import { t } from '@lingui/core/macro'
import { useRef, useState, type FormEvent, type ReactNode } from 'react'
import type { UsedPart } from '@/api/client'
import { Button } from '@/design/Button'
import { typedFigure } from '@/design/typedFigure'
import { fixed } from '@/design/format'

/** How a list of parts is to change, whatever others added to it meanwhile. */
export type PartsChange<Item> = (items: Item[]) => Item[]

function without<Item extends UsedPart>(one: Item): PartsChange<Item> {
  return (items) => {
    const at = items.findIndex(
      ({ what, count, price }) => what === one.what && count === one.count && price === one.price,
    )
    return items.filter((_, index) => index !== at)
  }
}

/** A list of parts with how many and what each costs, and a line for one more. */
export function PartLines<Item extends UsedPart>({
  items,
  label,
  priced,
  onChange,
  make,
  children,
}: {
  items: Item[]
  /** What one of them is. */
  label: string
  priced: boolean
  /** `onError`: called where the change could not be stored. */
  onChange: (change: PartsChange<Item>, onError?: () => void) => void
  make: (typed: { what: string; count: number; price: number | null }) => Item
  children?: ReactNode
}) {
  const [what, setWhat] = useState('')
  const [count, setCount] = useState('1')
  const [price, setPrice] = useState('')
  const [fault, setFault] = useState<string>()
  const whatField = useRef<HTMLInputElement>(null)
  function submit(event: FormEvent) {
    event.preventDefault()
    const many = typedFigure(count)
    const each = price.trim() === '' ? null : typedFigure(price)
    if (what.trim() === '') return whatField.current?.focus()
    if (many === null || many <= 0) return setFault(t`The quantity must be a number over 0`)
    if (price.trim() !== '' && (each === null || each < 0)) {
      return setFault(t`The price must be a number, or empty if it is not known`)
    }
    setFault(undefined)
    // What could not be stored stands in its boxes again.
    const added = make({ what: what.trim(), count: many, price: each })
    onChange(
      (before) => [...before, added],
      () => {
        setWhat(what)
        setCount(count)
        setPrice(price)
      },
    )
    setWhat('')
    setCount('1')
    setPrice('')
    whatField.current?.focus()
  }
  const box =
    'min-h-11 min-w-0 rounded-card border border-rule-strong bg-sheet px-3 placeholder:text-ink-soft'
  return (
    <>
      <ul>
        {items.map((one, index) => (
          <li
            // Two may be alike; one is its place in the list.
            key={index}
            className="flex items-center justify-between gap-3 border-b border-rule px-4"
          >
            <span>
              {(one.count ?? 1) !== 1 && `${one.count} × `}
              <strong>{one.what}</strong>
              {priced && one.price != null && t`, ${fixed(one.price, 2)} each`}
            </span>
            <Button
              look="quiet"
              aria-label={t`Remove ${one.what} from the list`}
              onClick={() => onChange(without(one))}
            >
              {t`remove`}
            </Button>
          </li>
        ))}
      </ul>
      <form onSubmit={submit} noValidate className="flex flex-wrap gap-2 p-3">
        <input
          ref={whatField}
          aria-label={label}
          placeholder={label}
          maxLength={200}
          value={what}
          onChange={(event) => setWhat(event.target.value)}
          className={`${box} flex-3 basis-40`}
        />
        {priced && (
          <>
            <input
              aria-label={t`${label}: quantity`}
              inputMode="decimal"
              value={count}
              onChange={(event) => setCount(event.target.value)}
              className={`${box} w-16`}
            />
            <input
              aria-label={t`${label}: price each`}
              placeholder={t`price each`}
              inputMode="decimal"
              value={price}
              onChange={(event) => setPrice(event.target.value)}
              className={`${box} w-28`}
            />
          </>
        )}
        <Button type="submit">{t`Add`}</Button>
        {children}
      </form>
      {fault && (
        <p role="alert" className="px-4 pb-3 text-sm text-tight">
          {fault}
        </p>
      )}
    </>
  )
}
