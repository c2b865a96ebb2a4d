import { useQuery } from '@tanstack/react-query'
import { useMemo, useReducer, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { measureAddress } from '@/api/addresses'
import type { Analysis, CrankPlan, EngineDetail, Phase, Visit } from '@/api/client'
import { analysisQuery, engineQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { length, lengthFigure } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { useTitle } from '@/design/useTitle'
import { gapOf, type Gap, type SpecRange } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { AnswerButtons } from './AnswerButtons'
import { answerOfKey } from './answers'
import { BladeFan } from './BladeFan'
import { BladesAtHand } from './BladesAtHand'
import { bladeChoice, feltAt, inHand, thicknessMm } from './bladeChoice'
import { FailureNotice } from './FailureNotice'
import { LastTime } from './LastTime'
import { PhaseChoice } from './PhaseChoice'
import { firstUnread, measuringOrder, nextValve } from './order'
import { crankQuery, visitQuery } from './queries'
import { ReadingLine } from './ReadingLine'
import { useSchool } from './school'
import { StationLine, stationOf } from './StationLine'
import { useKeys } from './useKeys'
import { useMeasuring } from './useMeasuring'
import { WorkLine } from './WorkLine'

export function MeasurePage() {
  const { engineId = '', visitId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const analysis = useQuery(analysisQuery(engineId))
  const visit = useQuery(visitQuery(engineId, visitId))
  const [choosing, setChoosing] = useState(false)
  const [school] = useSchool()
  const crank = useQuery(crankQuery(engineId, school))
  const error = engine.error ?? analysis.error ?? visit.error
  // An engine whose crank positions cannot be told is measured all the same, in its own order.
  if (engine.data && analysis.data && visit.data && !crank.isPending) {
    const blades = engine.data.gauge_set?.blades_mm
    if (!blades || choosing) {
      return (
        <BladesAtHand engineId={engineId} onDone={blades ? () => setChoosing(false) : undefined} />
      )
    }
    return (
      <Measuring
        key={`${engineId} ${visitId}`}
        detail={engine.data}
        analysis={analysis.data}
        visit={visit.data}
        plan={crank.data}
        bladesMm={[...blades].sort((a, b) => a - b)}
        onOtherBlades={() => setChoosing(true)}
      />
    )
  }
  return error ? <ErrorNotice error={error} /> : <Loading what="the visit" />
}

function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && /^(input|textarea|select)$/i.test(target.tagName)
}

function Measuring({
  detail: { engine },
  analysis,
  visit,
  plan,
  bladesMm,
  onOtherBlades,
}: {
  detail: EngineDetail
  analysis: Analysis
  visit: Visit
  plan: CrankPlan | undefined
  bladesMm: number[]
  onOtherBlades: () => void
}) {
  const { valveId } = useParams()
  const { unit } = usePreferences()
  const navigate = useNavigate()
  const [phase, setPhase] = useState<Phase>('found')
  // Chosen once on arrival: an answer that settles the first valve must not carry the page on by itself.
  const order = useMemo(() => measuringOrder(visit, plan), [visit, plan])
  const [arrival] = useState(() => firstUnread(order, visit))
  const valve = valveId ?? arrival ?? ''
  const known = analysis.valves.find((one) => one.valve === valve)
  useTitle(`${valve}, visit ${visit.id}: ${engine.name ?? engine.id}`)
  const measuring = useMeasuring(engine.id, visit)
  const tries = measuring.tries(valve, phase)
  const spec = useMemo(
    () =>
      Object.fromEntries(analysis.valves.map((one) => [one.valve, one.spec])) as Record<
        string,
        SpecRange | null
      >,
    [analysis],
  )
  const middle = known?.spec ? (known.spec.min_mm + known.spec.max_mm) / 2 : 0.2
  const atValve = { type: 'valve', bladesMm, startMm: middle, tried: tries } as const
  const [choice, dispatch] = useReducer(bladeChoice, undefined, () =>
    bladeChoice({ bladesMm, at: 0, stacked: [] }, atValve),
  )
  // Another valve or phase begins with another blade; done while drawing, so that no stale leaf shows.
  const state = `${valve} ${phase}`
  const [shown, setShown] = useState(state)
  if (shown !== state) {
    setShown(state)
    dispatch(atValve)
  }

  const measured = visit.valves.find((one) => one.valve === valve)?.[phase]
  const advice = measured?.advice ?? null
  // Each advice is followed once, when it comes; after that the hand is the technician's own.
  const adviceKey = `${state} ${tries.map((one) => one.id).join()}`
  const [followed, setFollowed] = useState('')
  if (advice?.blades_mm && followed !== adviceKey && !measuring.waiting(valve, phase)) {
    setFollowed(adviceKey)
    dispatch({ type: 'advised', bladesMm: advice.blades_mm })
  }

  const gaps = useMemo(
    () =>
      Object.fromEntries(
        visit.valves.map((one) => {
          const estimate = one[phase].estimate
          return [one.valve, estimate ? gapOf(estimate) : undefined]
        }),
      ) as Record<string, Gap | undefined>,
    [visit, phase],
  )
  const estimate = measured?.estimate ?? null
  const goTo = (id: string) =>
    void navigate(measureAddress(engine.id, visit.id, id), { replace: true })

  function answer(felt: 'no-go' | 'drag' | 'free') {
    const blades = inHand(choice)
    measuring.answer(valve, phase, blades, felt, () =>
      dispatch({ type: 'unadvised', felt, tried: [...tries, { blades_mm: blades, felt }] }),
    )
  }

  const takeBack = () => void measuring.takeBack(valve, phase)

  function onKey(event: globalThis.KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return
    const felt = answerOfKey(event.key)
    // A key held down is one answer, not many.
    if (felt && event.repeat) return
    // A button or link with the focus keeps its Enter.
    const onControl = event.target instanceof Element && event.target.closest('a, button') !== null
    const doing: Record<string, () => void> = {
      ArrowUp: () => dispatch({ type: 'step', by: 1 }),
      ArrowDown: () => dispatch({ type: 'step', by: -1 }),
      '+': () => dispatch({ type: 'stack' }),
      '-': () => dispatch({ type: 'unstack' }),
      Backspace: takeBack,
      F: () => setPhase('found'),
      G: () => setPhase('left'),
      ...(onControl ? {} : { Enter: () => goTo(nextValve(order, visit, phase, valve)) }),
    }
    const act =
      felt && felt !== 'go'
        ? () => answer(felt)
        : doing[event.key.length === 1 ? event.key.toUpperCase() : event.key]
    if (!act) return
    event.preventDefault()
    act()
  }
  useKeys(onKey)

  if (!known) return <Empty>This engine has no valve {valve}. Pick one on the plan.</Empty>
  const hand = inHand(choice)
  const station = stationOf(plan, valve)
  const advised = !measuring.waiting(valve, phase) ? (advice?.blades_mm ?? []) : []
  const asAdvised = advised.length > 0 && advised.join() === hand.join()
  return (
    <div className="mx-auto max-w-[1400px]">
      <WorkLine engine={engine} visit={visit} at="measure" />
      <div className="grid gap-x-6 gap-y-3 lg:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)]">
        <div className="min-w-0">
          <StationLine plan={plan} station={station} engineId={engine.id} visitId={visit.id} />
          <HeadPlan
            valves={engine.valves}
            layout={engine.layout}
            specs={spec}
            gaps={gaps}
            unit={unit}
            selected={valve}
            onSelect={goTo}
            marked={station && new Set(station.valves)}
            label={`Plan of the head, readings as ${phase}`}
            className="max-h-[26vh] lg:max-h-[470px]"
          />
          <LastTime analysis={analysis} valve={valve} visit={visit} engineId={engine.id} />
        </div>
        <section aria-label={`Measuring valve ${valve}`} className="flex min-w-0 flex-col gap-2">
          <div className="flex flex-wrap items-center justify-between gap-2">
            <h1>
              {valve}{' '}
              <span className="text-base font-normal text-ink-soft">
                cylinder {known.cylinder}, {known.side}
                {known.spec &&
                  `, spec ${lengthFigure(known.spec.min_mm, unit)} to ${length(known.spec.max_mm, unit)}`}
              </span>
            </h1>
            <PhaseChoice phase={phase} onChange={setPhase} />
          </div>
          <BladeFan
            bladesMm={choice.bladesMm}
            chosen={choice.at}
            felt={feltAt(choice.bladesMm, tries)}
            advisedMm={advised}
            unit={unit}
            onChoose={(at) => dispatch({ type: 'choose', at })}
          />
          <p className="-mt-2 text-center text-lg" aria-live="polite">
            {hand.length > 1 && `${hand.map((blade) => lengthFigure(blade, unit)).join(' + ')} = `}
            <strong>{length(thicknessMm(hand), unit)}</strong>
            <span className="text-accent">{asAdvised && ', advised'}</span>
            <Button
              look="quiet"
              className="ml-2 text-base"
              onClick={() => dispatch({ type: choice.stacked.length > 0 ? 'unstack' : 'stack' })}
            >
              {choice.stacked.length > 0 ? 'unstack ( − )' : 'stack one more ( + )'}
            </Button>
            <Button look="quiet" className="text-base" onClick={onOtherBlades}>
              other blades
            </Button>
          </p>
          <AnswerButtons onAnswer={answer} />
          <ReadingLine
            valve={valve}
            phase={phase}
            tries={tries}
            estimate={estimate}
            advice={advice}
            judged={known.spec !== null}
            unit={unit}
            onTakeBack={takeBack}
            onNext={() => goTo(nextValve(order, visit, phase, valve))}
          />
          {measuring.failure && (
            <FailureNotice
              failure={measuring.failure}
              onSendAgain={measuring.sendAll}
              onLetGo={measuring.letGo}
            />
          )}
        </section>
      </div>
    </div>
  )
}
