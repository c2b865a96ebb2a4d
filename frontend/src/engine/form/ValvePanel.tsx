import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { NO_SPEC, type ValveDraft } from './draft'
import { FigureOf, InputOf, SpecFields, useEngineForm } from './fields'
import { named } from '@/design/names'

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
      <legend className="sr-only">
        <Trans>Valve {valve.id}</Trans>
      </legend>
      <p className="font-semibold">
        <Trans>
          {valve.id}: cylinder {valve.cylinder}, {named(valve.side)}
        </Trans>
      </p>
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          className="size-5 accent-accent"
          checked={valve.spec !== null}
          onChange={(event) => set({ spec: event.target.checked ? NO_SPEC : null })}
        />
        {t`own spec for this valve`}
      </label>
      {valve.spec && (
        <SpecFields
          title={t`Spec of ${valve.id}`}
          name={`${name}.spec`}
          spec={valve.spec}
          onChange={(spec) => set({ spec })}
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        <FigureOf name={`${name}.shim` as const} label={t`Shim fitted`} unit="mm" />
        <InputOf
          name={`${name}.sharesWith` as const}
          label={t`Shares a rocker with`}
          hint={t`valves, such as 1Ib`}
        />
      </div>
    </fieldset>
  )
}
