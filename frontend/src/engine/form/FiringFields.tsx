import type { FiringOrder } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { useForm } from './fields'

/** In which order the cylinders fire, the usual orders of such an engine one press away. */
export function FiringFields({ usual }: { usual: FiringOrder[] }) {
  const { draft, change, faultAt } = useForm()
  const count = new Set(draft.valves.map((valve) => valve.cylinder)).size
  const fitting = usual.filter(
    (one) => one.layout === draft.head.kind && one.firing_order.length === count,
  )
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
      <Field
        label="Firing order"
        value={draft.firingOrder}
        hint="from cylinder 1, such as 1-3-4-2; empty if not known"
        onChange={(event) => change({ firingOrder: event.target.value })}
        fault={faultAt('$.engine.firing_order')}
      />
      <Field
        label="Firing intervals (°)"
        value={draft.firingIntervals}
        hint="empty if even; otherwise for example 270 450"
        onChange={(event) => change({ firingIntervals: event.target.value })}
        fault={faultAt('$.engine.firing_intervals_deg')}
      />
      {fitting.length > 0 && (
        <div className="col-span-2 flex flex-wrap items-center gap-2">
          <span className="text-sm text-ink-soft">usual:</span>
          {fitting.map((one) => (
            <Button
              key={`${one.firing_order.join('-')} ${(one.intervals_deg ?? []).join()}`}
              onClick={() =>
                change({
                  firingOrder: one.firing_order.join('-'),
                  firingIntervals: (one.intervals_deg ?? []).join(' '),
                  head: one.banks
                    ? { ...draft.head, banks: one.banks.map((bank) => bank.join(' ')) }
                    : draft.head,
                })
              }
            >
              {one.firing_order.join('-')}
              {one.intervals_deg && `, ${one.intervals_deg.join(' ')}°`}
              {one.note && <span className="text-sm text-ink-soft">{one.note}</span>}
            </Button>
          ))}
        </div>
      )}
    </div>
  )
}
