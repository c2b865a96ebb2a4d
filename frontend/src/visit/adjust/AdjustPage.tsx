import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { stepAddress } from '@/api/addresses'
import type { AdjustmentChoice, AdjustStep, Engine, EngineDetail, Visit } from '@/api/client'
import { buttonClass } from '@/design/Button'
import { sdText, usage, type LengthUnit, fixed } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { OrderShims } from './OrderShims'
import { PartsChanged } from './PartsChanged'
import { PolicyTable } from './PolicyTable'
import { Preloads } from '@/visit/shared/Preloads'
import { settingQuery, useChoose } from '@/visit/shared/adjustQueries'
import { Cautions, StepPage } from '@/visit/shared/StepPage'
import type { Turned } from './TurnDial'
import { ValveAdjustment } from './ValveAdjustment'

/** What to turn or to fit, how far and which way, and what was really done. */
export function AdjustPage() {
  return (
    <StepPage at="adjust" title={t`Adjust`}>
      {(detail, visit) => <Fetching detail={detail} visit={visit} />}
    </StepPage>
  )
}

function Fetching({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { data, error } = useQuery(settingQuery(detail.engine.id, visit.id))
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`what to adjust`} />
  return <Setting detail={detail} visit={visit} stop={data} />
}

const WHICH: { id: AdjustmentChoice['which']; label: string }[] = [
  { id: 'only-out', label: t`only valves out of spec or inconclusive` },
  { id: 'due', label: t`also valves that would go out before the next check` },
  { id: 'all', label: t`all` },
]

function Setting({
  detail,
  visit,
  stop,
}: {
  detail: EngineDetail
  visit: Visit
  stop: AdjustStep
}) {
  const { engine } = detail
  const { unit } = usePreferences()
  const choose = useChoose(engine.id, visit.id)
  // What was chosen shows at once.
  const choice = choose.isPending ? choose.variables.choice : stop.choice
  const change = (part: Partial<AdjustmentChoice>) =>
    choose.mutate({ choice: { ...choice, ...part }, was: choice })
  const setBefore = new Set(stop.settings.map((one) => one.valve))
  const shown = stop.plan.valves.filter(
    (one) => one.touch || setBefore.has(one.valve) || (one.note && one.target_mm !== null),
  )
  const sides = (['intake', 'exhaust'] as const).flatMap(
    (side) => engine.valves.find((valve) => valve.side === side)?.id ?? [],
  )
  const hydraulic = engine.adjustment === 'hydraulic'
  const turned: Turned =
    engine.thread?.locks === 'inner' || engine.adjustment === 'pivot-nut' ? 'nut' : 'screw'
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Adjust`}</h1>
        {stop.settings.length > 0 && (
          <Link
            to={stepAddress(engine.id, visit.id, 'verify')}
            className={buttonClass(stop.unmeasured.length > 0 ? 'plain' : 'main')}
          >
            {t`Next: Verify`}
          </Link>
        )}
      </div>
      {choose.error && <ErrorNotice error={choose.error} />}
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
        <Sheet
          title={t`Valve by valve`}
          aside={
            stop.unmeasured.length > 0 && (
              <span className="text-sm font-semibold text-loose">
                <Trans>adjusted, not re-measured: {stop.unmeasured.join(' ')}</Trans>
              </span>
            )
          }
        >
          {hydraulic ? (
            <Preloads
              engineId={engine.id}
              visitId={visit.id}
              stop={stop}
              school={visit.school}
              valves={engine.valves.map((valve) => valve.id)}
            />
          ) : shown.length === 0 ? (
            <p className="p-4 text-ink-soft">
              {t`Nothing to adjust with this choice. Decisions made at Assess take precedence.`}
            </p>
          ) : (
            <>
              {turned === 'nut' && (
                <p className="border-b border-rule px-4 py-2">
                  {t`On this engine the nut adjusts and the screw inside it locks: hold the nut while tightening the screw.`}
                </p>
              )}
              <ul>
                {shown.map((valve) => (
                  <ValveAdjustment
                    key={valve.valve}
                    engineId={engine.id}
                    visitId={visit.id}
                    unit={unit}
                    valve={valve}
                    stop={stop}
                    byShim={engine.adjustment.startsWith('shim')}
                    turned={turned}
                  />
                ))}
              </ul>
            </>
          )}
        </Sheet>
        <div className="flex flex-col gap-4">
          {!hydraulic && (
            <>
              <Sheet title={t`Target within the spec`}>
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
              <Sheet title={t`Which valves`}>
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
                  <p className="text-sm text-ink-soft">
                    {t`Decisions made at Assess take precedence.`}
                  </p>
                </div>
              </Sheet>
            </>
          )}
          <Shims stop={stop} engine={engine} visit={visit} />
          <PartsChanged engine={engine} visit={visit} />
          <Cautions detail={detail} step="adjust" />
          {stop.plan.allowance_rests_on.lock_ups > 0 && <Allowance plan={stop.plan} unit={unit} />}
        </div>
      </div>
    </>
  )
}

function Reason({
  choice,
  onChange,
}: {
  choice: AdjustmentChoice
  onChange: (part: Partial<AdjustmentChoice>) => void
}) {
  const [reason, setReason] = useState(choice.reason ?? '')
  return (
    <input
      aria-label={t`Reason for the target`}
      placeholder={t`reason`}
      maxLength={300}
      value={reason}
      onChange={(event) => setReason(event.target.value)}
      onBlur={() => reason !== (choice.reason ?? '') && onChange({ reason })}
      className="m-3 min-h-10 w-[calc(100%-1.5rem)] rounded-card border border-rule bg-paper px-2 placeholder:text-ink-soft"
    />
  )
}

/** What tightening the locknut is expected to move, and whose tightenings it was learned from. */
function Allowance({ plan, unit }: { plan: AdjustStep['plan']; unit: LengthUnit }) {
  const { lock_ups: count, technician } = plan.allowance_rests_on
  const mm = plan.locking_allowance_mm
  const moves = Math.abs(mm) < 0.0005 ? t`hardly moves it` : mm > 0 ? t`opens it` : t`closes it`
  return (
    <p className="bg-sheet px-4 py-2 text-sm">
      <Trans>Tightening the locknut {moves}</Trans>
      {Math.abs(mm) >= 0.0005 && t` by about ${sdText(Math.abs(mm), unit)}`}
      <Trans>
        , learned from <Plural value={count} one="# tightening" other="# tightenings" />
        {technician ? t` by ${technician}` : ''}. The turns and blades above include it.
      </Trans>
    </p>
  )
}

/** What to order, what comes back to the box, and what has to come out for it. */
function Shims({ stop, engine, visit }: { stop: AdjustStep; engine: Engine; visit: Visit }) {
  const { shims, camshafts_out: out } = stop.plan
  const range = stop.plan.valves
    .filter((valve) => valve.intervals_left !== null)
    .sort((a, b) => (a.intervals_left ?? 0) - (b.intervals_left ?? 0))[0]
  if (shims.fit.length === 0 && !range) return null
  const sizes = (counted: typeof shims.order) =>
    counted.map((one) => t`${one.count} of ${fixed(one.shim_mm, 3)} mm`).join(', ') || t`nothing`
  return (
    <Sheet title={t`Shims`}>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 px-4 py-2">
        <dt className="text-ink-soft">{t`to order`}</dt>
        <dd className="font-semibold">
          {sizes(shims.order)} <OrderShims order={shims.order} engine={engine} visit={visit} />
        </dd>
        <dt className="text-ink-soft">{t`returned to the box`}</dt>
        <dd>{sizes(shims.freed)}</dd>
        {out.length > 0 && (
          <>
            <dt className="text-ink-soft">{t`camshafts to remove`}</dt>
            <dd>{out.join('; ')}</dd>
          </>
        )}
        {range?.intervals_left != null && (
          <>
            <dt className="text-ink-soft">{t`shim range left`}</dt>
            <dd>
              <Trans>
                at this drift {range.valve} runs out first, in{' '}
                {fixed(range.intervals_left, range.intervals_left < 10 ? 1 : 0)} check intervals (
                {usage(range.intervals_left * engine.check_interval, engine.usage_unit)})
              </Trans>
            </dd>
          </>
        )}
      </dl>
    </Sheet>
  )
}
