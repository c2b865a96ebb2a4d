import { t } from '@lingui/core/macro'
import type { FiringOrder } from '@/api/client'
import { Button } from '@/design/Button'
import { InputOf, useEngineForm } from './fields'

/** In which order the cylinders fire, the usual orders of such an engine one press away. */
export function FiringFields({ usual }: { usual: FiringOrder[] }) {
  const { values, change } = useEngineForm()
  const count = new Set(values.valves.map((valve) => valve.cylinder)).size
  const fitting = usual.filter(
    (one) => one.layout === values.head.kind && one.firing_order.length === count,
  )
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
      <InputOf
        name="firingOrder"
        label={t`Firing order`}
        hint={t`from cylinder 1, such as 1-3-4-2; empty if not known`}
      />
      <InputOf
        name="firingIntervals"
        label={t`Firing intervals (°)`}
        hint={t`empty if even; otherwise for example 270 450`}
      />
      {fitting.length > 0 && (
        <div className="col-span-2 flex flex-wrap items-center gap-2">
          <span className="text-sm text-ink-soft">{t`usual:`}</span>
          {fitting.map((one) => (
            <Button
              key={`${one.firing_order.join('-')} ${(one.intervals_deg ?? []).join()}`}
              onClick={() =>
                change({
                  firingOrder: one.firing_order.join('-'),
                  firingIntervals: (one.intervals_deg ?? []).join(' '),
                  head: one.banks
                    ? { ...values.head, banks: one.banks.map((bank) => bank.join(' ')) }
                    : values.head,
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
