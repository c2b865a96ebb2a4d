import { t } from '@lingui/core/macro'
import { useId, useState } from 'react'
import { newId, ProblemError, type Customer, type CustomerFields } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { ErrorNotice } from '@/design/Notice'
import { fieldsOf, NOBODY, useKeepCustomer } from './customerQueries'

/** A customer as they are typed: a new one, or one that is known. */
export function CustomerForm({
  customer,
  name = '',
  onKept,
}: {
  customer?: Customer
  /** What was typed for a new one already. */
  name?: string
  onKept: (id: string) => void
}) {
  // As they were when this form was opened.
  const [shown] = useState(customer && fieldsOf(customer))
  const [typed, setTyped] = useState<CustomerFields>(shown ?? { ...NOBODY, name })
  const [id] = useState(() => customer?.id ?? newId())
  const keep = useKeepCustomer()
  const noteId = useId()
  const field = (key: keyof CustomerFields) => ({
    value: typed[key],
    fault: keep.error instanceof ProblemError ? keep.error.at(`$.customer.${key}`) : undefined,
    onChange: (event: { target: { value: string } }) =>
      setTyped({ ...typed, [key]: event.target.value }),
  })
  return (
    <form
      noValidate
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        keep.mutate(
          { id, customer: { ...typed, name: typed.name.trim() }, was: shown ?? null },
          { onSuccess: () => onKept(id) },
        )
      }}
    >
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
        <Field label={t`Name`} maxLength={200} autoComplete="off" {...field('name')} />
        <Field label={t`Telephone`} type="tel" maxLength={200} {...field('telephone')} />
        <Field label={t`E-mail`} type="email" maxLength={200} {...field('email')} />
        <Field label={t`Address`} maxLength={1000} {...field('address')} />
      </div>
      <label htmlFor={noteId} className="text-sm font-semibold">
        {t`Note`}
      </label>
      <textarea
        id={noteId}
        rows={2}
        maxLength={5000}
        value={typed.note}
        onChange={field('note').onChange}
        className="rounded-card border border-rule-strong bg-sheet px-3 py-2"
      />
      {keep.error && <ErrorNotice error={keep.error} />}
      <Button look="main" type="submit" className="self-start" disabled={keep.isPending}>
        {t`Save customer`}
      </Button>
    </form>
  )
}
