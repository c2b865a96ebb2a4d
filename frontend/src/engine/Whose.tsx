import { t } from '@lingui/core/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, unwrap, type EngineDetail } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Popup } from '@/design/Popup'
import { CustomerForm } from '@/shared/CustomerForm'
import { customersQuery } from '@/shared/customerQueries'
import { Reach } from '@/shared/Reach'
import { CustomerChoice } from './CustomerChoice'
import { Plate } from './Plate'

/** Which engine it is, and whose. */
export function Whose({ detail }: { detail: EngineDetail }) {
  const { customer, identity } = detail
  const [open, setOpen] = useState(false)
  return (
    <div className="-mt-2 mb-2 flex flex-wrap items-center gap-x-4">
      {identity && <p className="text-ink-soft">{identity}</p>}
      <Plate detail={detail} />
      <p>
        {customer && (
          <>
            <strong className="mr-3">{customer.name}</strong>
            <Reach customer={customer} />
          </>
        )}
        <Button look="quiet" className="no-print px-2!" onClick={() => setOpen(true)}>
          {customer ? t`Edit customer` : t`Whose engine?`}
        </Button>
      </p>
      {open && (
        <Popup title={t`Customer`} onClose={() => setOpen(false)}>
          <ChooseCustomer detail={detail} onDone={() => setOpen(false)} />
        </Popup>
      )}
    </div>
  )
}

function ChooseCustomer({ detail, onDone }: { detail: EngineDetail; onDone: () => void }) {
  const { engine, customer } = detail
  const { data: customers = [], error } = useQuery(customersQuery)
  // A name that nobody has yet.
  const [newName, setNewName] = useState<string>()
  const queryClient = useQueryClient()
  const set = useMutation({
    mutationFn: (id: string | null) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/customer', {
          params: { path: { engine_id: engine.id } },
          body: { customer: id },
        }),
      ),
    onSuccess: async () => {
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      void queryClient.invalidateQueries({ queryKey: customersQuery.queryKey })
      onDone()
    },
  })
  const fault = set.error ?? error
  return (
    <div className="flex flex-col gap-4">
      <CustomerChoice
        customers={customers}
        onChoose={(id) => set.mutate(id)}
        onNew={(name) => setNewName(name)}
      />
      {fault && <ErrorNotice error={fault} />}
      {newName !== undefined ? (
        <section>
          <h3 className="mb-2 font-semibold">{t`New customer`}</h3>
          <CustomerForm key={newName} name={newName} onKept={(id) => set.mutate(id)} />
        </section>
      ) : (
        customer && (
          <section>
            <h3 className="mb-2 font-semibold">{customer.name}</h3>
            <CustomerForm key={customer.id} customer={customer} onKept={onDone} />
            <Button look="quiet" className="mt-2" onClick={() => set.mutate(null)}>
              {t`Not theirs: no customer`}
            </Button>
          </section>
        )
      )}
    </div>
  )
}
