import type { Customer } from '@/api/client'

/** How to reach a customer: the telephone and the mail program open from here. */
export function Reach({ customer }: { customer: Pick<Customer, 'telephone' | 'email'> }) {
  return (
    <>
      {customer.telephone && (
        <a href={`tel:${customer.telephone.replaceAll(/[^\d+]/g, '')}`} className="mr-3">
          {customer.telephone}
        </a>
      )}
      {customer.email && (
        <a href={`mailto:${customer.email}`} className="mr-3">
          {customer.email}
        </a>
      )}
    </>
  )
}
