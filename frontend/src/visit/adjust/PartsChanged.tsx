import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import type { Engine, ValvePart, Visit } from '@/api/client'
import { ErrorNotice } from '@/design/Notice'
import { SelectField } from '@/design/SelectField'
import { Sheet } from '@/design/Sheet'
import { useVisitNow } from '@/shared/visitQueries'
import { usePartsChanged } from '@/visit/shared/adjustQueries'
import { named } from '@/design/names'

const PARTS: ValvePart[] = ['valve', 'seat', 'spring', 'rocker', 'pushrod', 'lifter', 'camshaft']

const partsOf = (changed: Visit['parts_changed'], valve: string) =>
  changed.filter((one) => one.valve === valve).map((one) => one.part)

/** Which parts were changed, valve by valve: what was measured before says nothing of the new ones. */
export function PartsChanged({ engine, visit }: { engine: Engine; visit: Visit }) {
  const keep = usePartsChanged(engine.id, visit.id)
  const visitNow = useVisitNow(engine.id, visit)
  const noted = visit.parts_changed
  const [valve, setValve] = useState(noted[0]?.valve ?? engine.valves[0]?.id ?? '')
  const now = partsOf(noted, valve)
  const others = [...new Set(noted.map((one) => one.valve))].filter((id) => id !== valve)

  function tick(part: ValvePart, on: boolean) {
    const was = partsOf(visitNow().parts_changed, valve)
    const without = was.filter((one) => one !== part)
    keep.mutate({ valve, parts: on ? [...without, part] : without, was })
  }

  return (
    <Sheet
      title={t`Parts changed`}
      aside={<span className="text-sm text-ink-soft">{t`valve by valve`}</span>}
    >
      <div className="flex flex-col gap-2 px-4 py-2">
        <SelectField
          label={t`Valve that got new parts`}
          value={valve}
          choices={engine.valves.map((one) => one.id)}
          onChange={setValve}
        />
        <fieldset className="flex flex-wrap gap-x-4">
          <legend className="sr-only">
            <Trans>Parts changed at {valve}</Trans>
          </legend>
          {PARTS.map((part) => (
            <label key={part} className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-accent"
                checked={now.includes(part)}
                onChange={(event) => tick(part, event.target.checked)}
              />
              {named(part)}
            </label>
          ))}
        </fieldset>
        {others.length > 0 && (
          <p>
            <Trans>
              Also:{' '}
              {others.map((id) => `${id} (${partsOf(noted, id).map(named).join(', ')})`).join(', ')}
              .
            </Trans>
          </p>
        )}
        <p className="text-sm text-ink-soft">
          {t`The drift of a valve with new parts begins anew; the other valves keep theirs. Measure it as left before you close up, and again after the first hours of running.`}
        </p>
        {keep.error && <ErrorNotice error={keep.error} />}
      </div>
    </Sheet>
  )
}
