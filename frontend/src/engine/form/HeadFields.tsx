import { t } from '@lingui/core/macro'
import { Field } from '@/design/Field'
import type { HeadDraft, Kind, Stand } from './draft'
import { halves } from './draft'
import { SelectField } from '@/design/SelectField'
import { useEngineForm } from './fields'

const KINDS: { id: Kind; label: string }[] = [
  { id: 'in-line', label: t`in line` },
  { id: 'v', label: 'V' },
  { id: 'flat', label: t`flat` },
]

const STANDS: Record<'one' | 'two', { id: Stand; label: string }[]> = {
  one: [
    { id: 'left', label: t`left side, seen towards the front` },
    { id: 'right', label: t`right side, seen towards the front` },
    { id: 'along', label: t`in line with the exhaust valves` },
  ],
  two: [
    { id: 'inside', label: t`between the banks` },
    { id: 'outside', label: t`outside` },
    { id: 'along', label: t`in line with the exhaust valves` },
  ],
}

const COUNTS = ['1', '2', '3', '4'].map((one) => ({ id: one, label: one }))
const CYLINDERS = Array.from({ length: 16 }, (_, index) => String(index + 1)).map((one) => ({
  id: one,
  label: one,
}))

function cylindersOf(head: HeadDraft): number {
  return head.banks.join(' ').split(/\s+/).filter(Boolean).length
}

/** An order along the head that fits, to begin with: exhausts outermost at each cylinder. */
function alongFor(head: HeadDraft): string[] {
  const one = [...Array<string>(head.exhausts).fill('E'), ...Array<string>(head.intakes).fill('I')]
  return head.banks.map((bank) =>
    bank
      .split(/\s+/)
      .filter(Boolean)
      .map((_, index) => (index % 2 === 0 ? one : [...one].reverse()).join(' '))
      .join(' '),
  )
}

/** How the cylinders and the valves stand; the plan beside follows each key. */
export function HeadFields({ fault }: { fault: string | undefined }) {
  const {
    values: { head },
    change,
  } = useEngineForm()
  const set = (part: Partial<HeadDraft>) => {
    const next = { ...head, ...part }
    change({ head: 'along' in part ? next : { ...next, along: alongFor(next) } })
  }
  function banksFor(kind: Kind, count: number): string[] {
    const cylinders = Array.from({ length: count }, (_, index) => index + 1)
    return kind === 'in-line' || count === 1 ? [cylinders.join(' ')] : halves(cylinders)
  }
  const count = cylindersOf(head)
  const several = head.banks.length > 1
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4 sm:grid-cols-4">
      <SelectField
        label={t`Layout`}
        value={head.kind}
        choices={KINDS}
        onChange={(kind) => {
          const banks = banksFor(kind, count)
          const stand = head.stand === 'along' ? 'along' : banks.length > 1 ? 'inside' : 'left'
          set({ kind, banks, stand })
        }}
      />
      <SelectField
        label={t`Cylinders`}
        value={String(count)}
        choices={CYLINDERS}
        onChange={(value) => set({ banks: banksFor(head.kind, Number(value)) })}
      />
      <SelectField
        label={t`Intake valves per cylinder`}
        value={String(head.intakes)}
        choices={COUNTS}
        onChange={(value) => set({ intakes: Number(value) })}
      />
      <SelectField
        label={t`Exhaust valves per cylinder`}
        value={String(head.exhausts)}
        choices={COUNTS}
        onChange={(value) => set({ exhausts: Number(value) })}
      />
      <div className="col-span-2">
        <SelectField
          label={t`Intake valves on`}
          value={head.stand}
          choices={STANDS[several ? 'two' : 'one']}
          onChange={(stand) => set({ stand })}
        />
      </div>
      <div className="col-span-2">
        <SelectField
          label={t`Front of the engine drawn on the`}
          value={head.front}
          choices={[
            { id: 'left', label: t({ context: 'side of the engine', message: 'left' }) },
            { id: 'right', label: t({ context: 'side of the engine', message: 'right' }) },
          ]}
          onChange={(front) => set({ front })}
        />
      </div>
      {several &&
        head.banks.map((bank, index) => (
          <div key={index} className="col-span-2">
            <Field
              label={t`Cylinders of bank ${index + 1}, front to rear`}
              value={bank}
              onChange={(event) =>
                set({
                  banks: head.banks.map((one, at) => (at === index ? event.target.value : one)),
                })
              }
            />
          </div>
        ))}
      {head.stand === 'along' &&
        head.along.map((along, index) => (
          <div key={index} className="col-span-2 sm:col-span-4">
            <Field
              label={t`Valve order${several ? t`, bank ${index + 1}` : ''}, front to rear`}
              value={along}
              hint={t`I and E, such as E I I E`}
              onChange={(event) =>
                set({
                  along: head.along.map((one, at) => (at === index ? event.target.value : one)),
                })
              }
            />
          </div>
        ))}
      {fault && (
        <p role="alert" className="col-span-full text-sm text-tight">
          {fault}
        </p>
      )}
    </div>
  )
}
