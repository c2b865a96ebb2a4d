import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { engineAddress } from '@/api/addresses'
import type { Customer } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { Popup } from '@/design/Popup'
import { useTitle } from '@/design/useTitle'
import { CustomerForm } from '@/shared/CustomerForm'
import { customersQuery, useForgetCustomer } from '@/shared/customerQueries'
import { Reach } from '@/shared/Reach'

function wordsOf(one: Customer): string {
  const engines = one.engines.map((engine) => engine.name)
  return [one.name, one.telephone, one.email, one.address, one.note, ...engines]
    .join(' ')
    .toLowerCase()
}

/** Who brings engines, and which. */
export function CustomersPage() {
  useTitle(t`Customers`)
  const { data: customers, error } = useQuery(customersQuery)
  const [typed, setTyped] = useState('')
  const [editing, setEditing] = useState<Customer | 'new'>()
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  const found = customers?.filter((one) => words.every((word) => wordsOf(one).includes(word)))
  return (
    <div className="mx-auto max-w-[1000px]">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Customers`}</h1>
        <div className="flex gap-2">
          <Link to="/" className={buttonClass('quiet')}>
            {t`Workshop`}
          </Link>
          <Button look="main" onClick={() => setEditing('new')}>
            {t`Add customer`}
          </Button>
        </div>
      </div>
      <label className="mb-3 flex max-w-md flex-col gap-1 text-sm font-semibold">
        {t`Search customers`}
        <input
          type="search"
          value={typed}
          placeholder={t`name, telephone, address, engine`}
          onChange={(event) => setTyped(event.target.value)}
          className="min-h-11 rounded-card border border-rule-strong bg-sheet px-3 py-2 text-base font-normal"
        />
      </label>
      {error && <ErrorNotice error={error} />}
      {!customers && !error && <Loading what={t`the customers`} />}
      {customers?.length === 0 && (
        <Empty>{t`No customers yet. Add one here, or on the page of an engine.`}</Empty>
      )}
      {found && found.length > 0 && (
        <ul className="border border-rule bg-sheet">
          {found.map((one) => (
            <Line key={one.id} one={one} onEdit={() => setEditing(one)} />
          ))}
        </ul>
      )}
      {customers && customers.length > 0 && found?.length === 0 && (
        <p className="text-ink-soft">{t`No customer matches. Shorten the search.`}</p>
      )}
      {editing && (
        <Popup
          title={editing === 'new' ? t`New customer` : editing.name}
          onClose={() => setEditing(undefined)}
        >
          <CustomerForm
            customer={editing === 'new' ? undefined : editing}
            name={editing === 'new' ? typed : undefined}
            onKept={() => setEditing(undefined)}
          />
        </Popup>
      )}
    </div>
  )
}

function Line({ one, onEdit }: { one: Customer; onEdit: () => void }) {
  const forget = useForgetCustomer()
  return (
    <li className="border-b border-rule px-4 py-3 last:border-0">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <div className="min-w-60 flex-1">
          <p>
            <strong className="mr-3">{one.name}</strong>
            <Reach customer={one} />
            <span className="text-ink-soft">{one.address}</span>
          </p>
          {one.note && <p className="text-sm text-ink-soft">{one.note}</p>}
          <p className="flex flex-wrap gap-x-4">
            {one.engines.map((engine) => (
              <Link key={engine.id} to={engineAddress(engine.id)}>
                {engine.name}
              </Link>
            ))}
            {one.engines.length === 0 && <span className="text-ink-soft">{t`no engines`}</span>}
          </p>
        </div>
        <Button aria-label={t`Edit ${one.name}`} onClick={onEdit}>
          {t`Edit`}
        </Button>
        {one.engines.length === 0 && (
          <Button
            look="quiet"
            aria-label={t`Remove ${one.name}`}
            disabled={forget.isPending}
            onClick={() => forget.mutate(one.id)}
          >
            {t`remove`}
          </Button>
        )}
      </div>
      {forget.error && <ErrorNotice error={forget.error} />}
    </li>
  )
}
