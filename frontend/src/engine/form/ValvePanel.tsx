import { Field } from '@/design/Field'
import { NO_SPEC, type ValveDraft } from './draft'
import { SpecFields, useForm } from './fields'

/** What one valve has of its own. */
export function ValvePanel({ valve }: { valve: ValveDraft }) {
  const { draft, change, faultAt } = useForm()
  const index = draft.valves.indexOf(valve)
  const path = `$.engine.valves[${index}]`
  const set = (part: Partial<ValveDraft>) =>
    change({ valves: draft.valves.map((one) => (one === valve ? { ...one, ...part } : one)) })
  return (
    <fieldset className="flex flex-col gap-2 border-t border-rule p-3">
      <legend className="sr-only">Valve {valve.id}</legend>
      <p className="font-semibold">
        {valve.id}: cylinder {valve.cylinder}, {valve.side}
      </p>
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          className="size-5 accent-accent"
          checked={valve.spec !== null}
          onChange={(event) => set({ spec: event.target.checked ? NO_SPEC : null })}
        />
        own spec for this valve
      </label>
      {valve.spec && (
        <SpecFields
          title={`Spec of ${valve.id}`}
          path={`${path}.spec`}
          spec={valve.spec}
          onChange={(spec) => set({ spec })}
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Shim fitted"
          unit="mm"
          inputMode="decimal"
          value={valve.shim}
          onChange={(event) => set({ shim: event.target.value })}
          fault={faultAt(`${path}.shim_mm`)}
        />
        <Field
          label="Shares a rocker with"
          value={valve.sharesWith}
          hint="valves, such as 1Ib"
          onChange={(event) => set({ sharesWith: event.target.value })}
          fault={faultAt(`${path}.shares_rocker_with`)}
        />
      </div>
    </fieldset>
  )
}
