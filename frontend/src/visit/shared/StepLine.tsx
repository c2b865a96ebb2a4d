import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useEffect, useRef, type ReactNode } from 'react'
import { Link } from 'react-router'
import { engineAddress, soundAddress, stepAddress, type StepName } from '@/api/addresses'
import type { Engine, Visit } from '@/api/client'
import { day, usage } from '@/design/format'
import { SimulatedNotice } from '@/design/SimulatedNotice'
import { PhotographsButton } from './Photographs'
import { STEP_LABELS } from './stepLabels'
import { WorkState } from './WorkState'

type StepState = 'done' | 'here' | 'open'

/** Whether its lifters take up their own play: there is no clearance to be measured. */
export function isHydraulic(engine: Engine): boolean {
  return engine.adjustment === 'hydraulic'
}

/** The steps that an engine's visit has. */
function stepsOf(engine: Engine): StepName[] {
  const all = Object.keys(STEP_LABELS) as StepName[]
  return isHydraulic(engine) ? all.filter((step) => step !== 'measure') : all
}

/** So much of the step before is seen. */
const SHOWN_BEFORE_PX = 90

/** Where the work stands: the steps of a visit as a drawn line, the current one inked. */
export function StepLine({ engine, visit, at }: { engine: Engine; visit: Visit; at: StepName }) {
  const read = visit.valves.filter((valve) => valve.found.tries.length > 0).length
  const steps = stepsOf(engine)
  const line = useRef<HTMLElement>(null)

  // On a small screen the line moves sideways by itself; what comes next is in sight.
  useEffect(() => {
    const here = line.current?.querySelector<HTMLElement>('[aria-current]')
    if (line.current && here) line.current.scrollLeft = here.offsetLeft - SHOWN_BEFORE_PX
  }, [at])

  return (
    <div className="no-print mb-2 border-b border-rule pb-2">
      <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-1">
        <nav
          ref={line}
          aria-label={t`Steps of the visit`}
          className="relative max-w-full overflow-x-auto md:overflow-visible"
        >
          <ol className="flex w-max items-center gap-y-1 md:w-auto md:flex-wrap">
            {steps.map((step) => (
              <Step
                key={step}
                label={STEP_LABELS[step]}
                state={step === at ? 'here' : visit.done.includes(step) ? 'done' : 'open'}
                to={step === at ? undefined : stepAddress(engine.id, visit.id, step)}
              >
                {step === 'measure' && t`${read} of ${visit.valves.length} measured`}
                {step === 'adjust' &&
                  isHydraulic(engine) &&
                  t`${visit.adjusted.length} of ${visit.valves.length} preloaded`}
              </Step>
            ))}
            <Step label={t`Follow up`} state="open" to={engineAddress(engine.id)} last />
          </ol>
        </nav>
        <p className="text-sm text-ink-soft">
          <Trans>
            <Link to={engineAddress(engine.id)}>{engine.name ?? engine.id}</Link>, visit {visit.id},{' '}
            {day(visit.date)}, {usage(visit.usage, engine.usage_unit)},{' '}
            {visit.temperature_c === null
              ? t`temperature not entered`
              : `${visit.temperature_c} °C`}{' '}
            ·
          </Trans>{' '}
          <WorkState engineId={engine.id} visit={visit} /> ·{' '}
          <PhotographsButton engine={engine} visitId={visit.id} step={at} /> ·{' '}
          <Link to={`${soundAddress(engine.id, visit.id)}${at === 'verify' ? '?phase=left' : ''}`}>
            {t`Sound`}
          </Link>
        </p>
      </div>
      <SimulatedNotice parts={visit.simulated} />
      {visit.not_cold.length > 0 && (
        <p className="font-semibold text-loose">
          <Trans>
            Not a cold check: {visit.not_cold.join('; ')}. The readings are corrected where the
            lengths are known, but are less certain.
          </Trans>
        </p>
      )}
    </div>
  )
}

const MARKS: Record<StepState, string> = {
  here: 'bg-ink border-ink',
  done: 'bg-rule-strong border-rule-strong',
  open: 'border-rule-strong',
}
const SPOKEN: Record<StepState, string> = { here: '', done: t`, done`, open: t`, not done` }

function Step({
  label,
  state,
  to,
  last = false,
  children,
}: {
  label: string
  state: StepState
  to?: string
  last?: boolean
  children?: ReactNode
}) {
  return (
    <li
      className="flex min-h-11 items-center whitespace-nowrap md:min-h-0"
      aria-current={state === 'here' ? 'step' : undefined}
    >
      <span aria-hidden="true" className={`mr-1 size-4 rounded-full border-2 ${MARKS[state]}`} />
      <span className={state === 'here' ? 'font-bold' : ''}>
        {to ? <Link to={to}>{label}</Link> : label}
        <span className="sr-only">{SPOKEN[state]}</span>
      </span>
      {children && <span className="ml-1.5 text-sm text-ink-soft">{children}</span>}
      {!last && <span aria-hidden="true" className="mx-1.5 h-0.5 w-2 bg-rule-strong" />}
    </li>
  )
}
