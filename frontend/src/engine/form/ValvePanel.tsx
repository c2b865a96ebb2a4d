import { NO_SPEC, type ValveDraft } from './draft'
import { FigureOf, InputOf, SpecFields, useEngineForm } from './fields'

/** What one valve has of its own. */
export function ValvePanel({ valve }: { valve: ValveDraft }) {
  const { values, change } = useEngineForm()
  const index = values.valves.findIndex((one) => one.id === valve.id)
  const name = `valves.${index}` as const
  const set = (part: Partial<ValveDraft>) =>
    change({
      valves: values.valves.map((one) => (one.id === valve.id ? { ...one, ...part } : one)),
    })
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
          name={`${name}.spec`}
          spec={valve.spec}
          onChange={(spec) => set({ spec })}
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        <FigureOf name={`${name}.shim` as const} label="Shim fitted" unit="mm" />
        <InputOf
          name={`${name}.sharesWith` as const}
          label="Shares a rocker with"
          hint="valves, such as 1Ib"
        />
      </div>
    </fieldset>
  )
}
