import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { EngineDetail, SetStop, SettingChoice, Visit } from '@/api/client'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { PolicyTable } from './PolicyTable'
import { settingQuery, useChoose } from './settingQueries'
import { StopPage } from './StopPage'
import { ValveToSet } from './ValveToSet'

/** What to turn or to fit, how far and which way, and what was really done. */
export function SetPage() {
  return (
    <StopPage at="set" title="Set">
      {(detail, visit) => <Fetching detail={detail} visit={visit} />}
    </StopPage>
  )
}

function Fetching({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { data, error } = useQuery(settingQuery(detail.engine.id, visit.id))
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what="what to set" />
  return <Setting detail={detail} visit={visit} stop={data} />
}

const WHICH: { id: SettingChoice['which']; label: string }[] = [
  { id: 'only-out', label: 'only what is out or open' },
  { id: 'due', label: 'also what would not last to the next check' },
  { id: 'all', label: 'all' },
]

function Setting({
  detail: { engine },
  visit,
  stop,
}: {
  detail: EngineDetail
  visit: Visit
  stop: SetStop
}) {
  const { unit } = usePreferences()
  const choose = useChoose(engine.id, visit.id)
  // What was chosen shows at once.
  const choice = choose.isPending ? choose.variables.choice : stop.choice
  const change = (part: Partial<SettingChoice>) =>
    choose.mutate({ choice: { ...choice, ...part }, was: choice })
  const setBefore = new Set(stop.settings.map((one) => one.valve))
  const shown = stop.plan.valves.filter(
    (one) => one.touch || setBefore.has(one.valve) || (one.note && one.target_mm !== null),
  )
  const sides = (['intake', 'exhaust'] as const).flatMap(
    (side) => engine.valves.find((valve) => valve.side === side)?.id ?? [],
  )
  const { preload } = stop.plan
  return (
    <>
      <h1 className="mb-3">Set</h1>
      {choose.error && <ErrorNotice error={choose.error} />}
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
        <Sheet
          title="Valve by valve"
          aside={
            stop.unmeasured.length > 0 && (
              <span className="text-sm font-semibold text-loose">
                set and not measured again: {stop.unmeasured.join(' ')}
              </span>
            )
          }
        >
          {preload && (
            <p className="border-b border-rule px-4 py-2">
              Pump the lifters up first. From zero lash, felt by spinning the push-rod between two
              fingers: <strong>{preload.turns} turns</strong> of preload
              {preload.plunger_travel_mm !== null &&
                `, ${preload.plunger_travel_mm.toFixed(2)} mm of plunger travel`}
              {preload.sound === false && ', outside the middle half of its stroke'}.
            </p>
          )}
          {shown.length === 0 ? (
            <p className="p-4 text-ink-soft">
              Nothing is to be set by this choice. What was decided at Judge goes before it.
            </p>
          ) : (
            <ul>
              {shown.map((valve) => (
                <ValveToSet
                  key={valve.valve}
                  engineId={engine.id}
                  visitId={visit.id}
                  valve={valve}
                  done={stop.settings.filter((one) => one.valve === valve.valve)}
                  unmeasured={stop.unmeasured.includes(valve.valve)}
                  byShim={engine.adjustment.startsWith('shim')}
                  unit={unit}
                />
              ))}
            </ul>
          )}
        </Sheet>
        <div className="flex flex-col gap-4">
          <Sheet title="Where in the spec">
            <PolicyTable
              policies={stop.policies}
              chosen={choice.policy}
              valves={sides}
              interval={engine.check_interval}
              usageUnit={engine.usage_unit}
              unit={unit}
              onChoose={(policy) => change({ policy })}
            />
            <Reason key={choice.reason} choice={choice} onChange={change} />
          </Sheet>
          <Sheet title="Which valves">
            <div className="px-4 py-1">
              {WHICH.map((one) => (
                <label key={one.id} className="flex min-h-10 items-center gap-2">
                  <input
                    type="radio"
                    name="which"
                    className="size-5 accent-accent"
                    checked={choice.which === one.id}
                    onChange={() => change({ which: one.id })}
                  />
                  {one.label}
                </label>
              ))}
              <p className="text-sm text-ink-soft">What was decided at Judge goes before this.</p>
            </div>
          </Sheet>
          <Shims stop={stop} />
          <p className="border-l-6 border-loose bg-sheet px-4 py-2 text-[0.95rem]">
            The maker's manual comes first. Hold the screw while the nut is locked, and measure
            again: locking moves it
            {stop.plan.locking_allowance_mm !== 0 &&
              `, here by ${(1000 * stop.plan.locking_allowance_mm).toFixed(0)} µm so far, which is allowed for`}
            .
          </p>
        </div>
      </div>
    </>
  )
}

function Reason({
  choice,
  onChange,
}: {
  choice: SettingChoice
  onChange: (part: Partial<SettingChoice>) => void
}) {
  const [reason, setReason] = useState(choice.reason ?? '')
  return (
    <input
      aria-label="Why so"
      placeholder="why so"
      maxLength={300}
      value={reason}
      onChange={(event) => setReason(event.target.value)}
      onBlur={() => reason !== (choice.reason ?? '') && onChange({ reason })}
      className="m-3 min-h-10 w-[calc(100%-1.5rem)] rounded-card border border-rule bg-paper px-2 placeholder:text-ink-soft"
    />
  )
}

/** What to order, what comes back to the box, and what has to come out for it. */
function Shims({ stop }: { stop: SetStop }) {
  const { shims, camshafts_out: out } = stop.plan
  if (shims.fit.length === 0) return null
  const sizes = (counted: typeof shims.order) =>
    counted.map((one) => `${one.count} of ${one.shim_mm.toFixed(3)} mm`).join(', ') || 'nothing'
  return (
    <Sheet title="Shims">
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 px-4 py-2">
        <dt className="text-ink-soft">to order</dt>
        <dd className="font-semibold">{sizes(shims.order)}</dd>
        <dt className="text-ink-soft">back to the box</dt>
        <dd>{sizes(shims.freed)}</dd>
        {out.length > 0 && (
          <>
            <dt className="text-ink-soft">camshafts out</dt>
            <dd>{out.join('; ')}</dd>
          </>
        )}
      </dl>
    </Sheet>
  )
}
