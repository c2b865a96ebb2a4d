import { useMemo, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { measureAddress, stepAddress, checkSheetAddress } from '@/api/addresses'
import type { Analysis, BladeSet, CrankPlan, EngineDetail, Phase, Visit } from '@/api/client'
import { Button } from '@/design/Button'
import { length, lengthFigure } from '@/design/format'
import { Empty } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { useTitle } from '@/design/useTitle'
import { gapOf, specsOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { AnswerButtons } from '@/blades/AnswerButtons'
import { answerOfKey } from '@/blades/answers'
import { BladeFan, printsOf } from '@/blades/BladeFan'
import { feltAt, inHand } from '@/blades/bladeChoice'
import { FailureNotice } from './FailureNotice'
import { HandLine } from './HandLine'
import { LastTime } from './LastTime'
import { firstUnread, isDone, measuringOrder, nextValve, valvesOf } from '@/visit/shared/order'
import { PhaseChoice } from '@/visit/shared/PhaseChoice'
import { PositionAlert } from '@/visit/shared/PositionAlert'
import { useSkip } from '@/shared/visitQueries'
import { ReadingLine } from './ReadingLine'
import { SkipValve } from './SkipValve'
import { StationLine, stationOf } from '@/visit/shared/StationLine'
import { useBladeInHand } from './useBladeInHand'
import { useAutoAdvance } from './useAutoAdvance'
import { useKeys } from '@/design/useKeys'
import { useMeasuring } from './useMeasuring'
import { ValveNotes } from './ValveNotes'

/** Where a key means something else than on this screen: in a field. */
function isElsewhere(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (/^(textarea|select)$/i.test(target.tagName) ||
      (target instanceof HTMLInputElement && target.type !== 'checkbox'))
  )
}

const DEFAULT_START_MM = 0.2

/** What was read as found, once nothing is left to read. */
function readWords(visit: Visit): string {
  const skipped = visit.valves.filter((one) => one.found.skipped && one.found.tries.length === 0)
  const read = visit.valves.length - skipped.length
  const passed = skipped.length > 0 ? `; skipped: ${skipped.map((one) => one.valve).join(' ')}` : ''
  return `${skipped.length > 0 ? `${read} of ${visit.valves.length}` : `All ${read}`} valves are measured${passed}. Enter: next step, Assess.`
}

/** What was measured again, once every adjusted valve is. */
function leftWords(visit: Visit): string {
  return visit.adjusted.length === 0
    ? 'No valve was adjusted at this visit: nothing to measure as left. Enter: next step, Verify.'
    : `All ${visit.adjusted.length} adjusted valves are measured as left. Enter: next step, Verify.`
}

/** One valve after the other: the blade in the hand, what it felt like, what that comes to. */
export function Measuring({
  detail: { engine, cautions },
  analysis,
  visit,
  plan,
  bladeSet,
  onOtherBlades,
}: {
  detail: EngineDetail
  analysis: Analysis
  visit: Visit
  plan: CrankPlan | undefined
  bladeSet: BladeSet
  onOtherBlades: () => void
}) {
  const { valveId } = useParams()
  const { unit } = usePreferences()
  const navigate = useNavigate()
  const [search] = useSearchParams()
  const [phase, setPhase] = useState<Phase>(search.get('phase') === 'left' ? 'left' : 'found')
  const [typing, setTyping] = useState(false)
  const [turned, setTurned] = useState<{ place: string; turn: number } | null>(null)
  const [answeredAt, setAnsweredAt] = useState('')
  const order = useMemo(
    () => measuringOrder(visit, plan, engine.valves),
    [visit, plan, engine.valves],
  )
  // Chosen once on arrival: an answer that settles the first valve must not carry the page on by itself.
  const [arrival] = useState(() => firstUnread(order, visit))
  const valve = valveId ?? arrival ?? ''
  const place = `${valve} ${phase}`
  useTitle(`${valve}, visit ${visit.id}: ${engine.name ?? engine.id}`)

  const known = analysis.valves.find((one) => one.valve === valve)
  const stored = visit.valves.find((one) => one.valve === valve)
  const storedTurn = stored?.[phase].crank_turn ?? 1
  const turn = turned?.place === place ? Math.max(turned.turn, storedTurn) : storedTurn
  // Turned round and nothing answered yet: what was read before is an earlier reading.
  const measured = turn === storedTurn ? stored?.[phase] : undefined

  const measuring = useMeasuring(engine.id, visit)
  const skip = useSkip(engine.id, visit.id)
  const tries = measuring.tries(valve, phase, turn)
  const waiting = measuring.waiting(valve, phase, turn)
  const advice = waiting ? null : (measured?.advice ?? null)
  const estimate = measured?.estimate ?? null
  const middle = known?.spec ? (known.spec.min_mm + known.spec.max_mm) / 2 : DEFAULT_START_MM
  const bladesMm = useMemo(() => [...bladeSet.blades_mm].sort((a, b) => a - b), [bladeSet])
  const { choice, take } = useBladeInHand({
    place: `${place} ${turn}`,
    bladesMm,
    startMm: stored?.[phase].estimate?.mean_mm ?? middle,
    tries,
    advice,
    away: waiting && measuring.isAway,
  })
  const gaps = useMemo(
    () =>
      Object.fromEntries(
        visit.valves.map((one) => {
          const read = one[phase].estimate
          return [one.valve, read ? gapOf(read) : undefined]
        }),
      ),
    [visit, phase],
  )

  const goTo = (id: string) => {
    setTyping(false)
    setAnsweredAt('')
    void navigate(measureAddress(engine.id, visit.id, id), { replace: true })
  }
  const next = nextValve(order, visit, phase, valve)
  // Once there is nothing left to measure the work goes on at the next step.
  const after = phase === 'found' ? ('assess' as const) : ('verify' as const)
  const isLast =
    next === null &&
    !waiting &&
    (isDone(visit, phase, valve) || valvesOf(order, visit, phase).length === 0)
  const goOn = () => {
    if (next !== null) goTo(next)
    else if (isLast) void navigate(stepAddress(engine.id, visit.id, after))
  }
  const settled = !waiting && isDone(visit, phase, valve) && estimate?.verdict !== 'open'
  const goingOn = useAutoAdvance(settled && answeredAt === place && next !== null, goOn)

  const hand = inHand(choice)
  function answer(felt: 'no-go' | 'drag' | 'free') {
    setAnsweredAt(place)
    // Typed in their own unit, where they are none of the set's.
    const entered = choice.typed ? choice.typed.map((mm) => length(mm, unit)).join(' + ') : null
    measuring.answer({ valve, phase, blades_mm: hand, felt, crank_turn: turn, entered })
  }
  function takeBack(id = tries.at(-1)?.id) {
    setAnsweredAt('')
    if (id !== undefined) measuring.takeBack(id)
  }
  function turnRound() {
    setAnsweredAt('')
    if (tries.length > 0 && !waiting) setTurned({ place, turn: turn + 1 })
  }
  const stack = () => take({ type: choice.stacked.length > 0 ? 'unstack' : 'stack' })

  function onKey(event: globalThis.KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey || isElsewhere(event.target)) return
    const felt = answerOfKey(event.key)
    // A key held down is one answer, not many.
    if (felt && event.repeat) return
    // A button or link with the focus keeps its Enter.
    const onControl = event.target instanceof Element && event.target.closest('a, button') !== null
    const doing: Record<string, () => void> = {
      ArrowUp: () => take({ type: 'step', by: 1 }),
      ArrowDown: () => take({ type: 'step', by: -1 }),
      '+': () => take({ type: 'stack' }),
      '-': () => take({ type: 'unstack' }),
      Backspace: () => takeBack(),
      B: () => setTyping(true),
      R: turnRound,
      F: () => setPhase('found'),
      G: () => setPhase('left'),
      ...(onControl ? {} : { Enter: goOn }),
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

  if (!known) return <Empty>This engine has no valve {valve}. Choose one on the plan.</Empty>
  const station = stationOf(plan, valve)
  const advised = advice?.blades_mm ?? []
  return (
    <>
      <PositionAlert engineId={engine.id} visitId={visit.id} positions={visit.positions} />
      <div className="grid gap-x-6 gap-y-2 lg:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)]">
        <div className="min-w-0">
          <StationLine
            plan={plan}
            station={station}
            engineId={engine.id}
            visitId={visit.id}
            cautions={cautions.filter((one) => one.step === 'measure').map((one) => one.text)}
          />
          <HeadPlan
            valves={engine.valves}
            layout={engine.layout}
            specs={specsOf(analysis)}
            gaps={gaps}
            unit={unit}
            selected={valve}
            onSelect={goTo}
            marked={station && new Set(station.valves)}
            label={`Plan of the head, readings as ${phase}`}
            className="max-h-[20vh] lg:max-h-[440px]"
          />
          <LastTime analysis={analysis} valve={valve} visit={visit} engineId={engine.id} />
          <div className="mt-1 flex flex-wrap items-center justify-between gap-x-6 text-sm">
            <Button
              look="quiet"
              className="-ml-4 min-h-12"
              onClick={onOtherBlades}
              aria-label={`Change feeler gauge set; now: ${bladeSet.name}`}
            >
              Blades: {bladeSet.name}
            </Button>
            <Link to={checkSheetAddress(engine.id, visit.id)}>enter a check sheet</Link>
            <label className="flex min-h-12 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-accent"
                checked={goingOn.on}
                onChange={(event) => {
                  // What was settled before the switch was thrown carries nobody away.
                  setAnsweredAt('')
                  goingOn.setOn(event.target.checked)
                }}
              />
              advance automatically when decided
            </label>
          </div>
          <ValveNotes
            valve={engine.valves.find((one) => one.id === valve)}
            measured={stored}
            phase={phase}
            unit={unit}
          />
        </div>
        <section aria-label={`Measuring valve ${valve}`} className="flex min-w-0 flex-col gap-2">
          <div className="flex items-center justify-between gap-2">
            <h1 className="min-w-0">
              {valve}{' '}
              <span className="text-base font-normal text-ink-soft">
                cylinder {known.cylinder}, {known.side}
                {known.spec &&
                  `, spec ${lengthFigure(known.spec.min_mm, unit)} to ${length(known.spec.max_mm, unit)}${engine.source ? '' : ', source not given'}`}
                {turn > 1 && `, turn ${turn} of the crank`}
              </span>
            </h1>
            <PhaseChoice phase={phase} onChange={setPhase} />
          </div>
          <BladeFan
            bladesMm={choice.bladesMm}
            chosen={choice.typed ? -1 : choice.at}
            felt={feltAt(choice.bladesMm, tries)}
            advisedMm={advised}
            prints={printsOf(bladeSet.unit, unit)}
            onChoose={(at) => take({ type: 'choose', at })}
          />
          <HandLine
            key={place}
            hand={hand}
            advised={advised.length > 0 && advised.join() === hand.join()}
            stacked={choice.stacked.length > 0}
            bladesMm={bladesMm}
            unit={unit}
            typing={typing}
            onTyping={setTyping}
            onStack={stack}
            onTyped={(blades) => {
              take({ type: 'typed', bladesMm: blades })
              setTyping(false)
            }}
          />
          <AnswerButtons onAnswer={answer} />
          <ReadingLine
            valve={valve}
            phase={phase}
            tries={tries}
            estimate={estimate}
            advice={advice}
            assessed={known.spec !== null}
            skipped={measured?.skipped ?? null}
            unit={unit}
            temperatures={{ at: visit.temperature_c, reference: visit.reference_temperature_c }}
            onTakeBack={takeBack}
          />
          <div className="flex flex-wrap justify-between gap-1.5">
            <Button
              onClick={() => takeBack()}
              disabled={tries.length === 0}
              className="min-h-12 px-2.5!"
              title="Backspace"
            >
              Undo
            </Button>
            <SkipValve
              valve={valve}
              skipped={measured?.skipped ?? null}
              error={skip.error}
              onSkip={(reason) =>
                // A valve passed over is done with; one that is to be read after all stays.
                skip.mutate({ valve, phase, reason }, reason === null ? {} : { onSuccess: goOn })
              }
            />
            <Button
              onClick={turnRound}
              disabled={tries.length === 0 || waiting}
              className="min-h-12 px-2! text-sm"
              title="Turn the crank twice round and measure this valve again: it shows a bent pushrod"
            >
              Re-measure (crank turned) ( R )
            </Button>
            <Button
              look={settled ? 'main' : 'plain'}
              onClick={goOn}
              disabled={next === null && !isLast}
              className="min-h-12 px-2.5!"
            >
              {isLast
                ? `${phase === 'found' ? 'Next: Assess' : 'Next: Verify'} ( Enter )`
                : 'Next valve ( Enter )'}
            </Button>
          </div>
          {isLast && (
            <p role="status" className="font-semibold text-in">
              {phase === 'found' ? readWords(visit) : leftWords(visit)}
            </p>
          )}
          {measuring.failure && (
            <FailureNotice
              failure={measuring.failure}
              onSendAgain={measuring.sendAll}
              onLetGo={measuring.letGo}
            />
          )}
        </section>
      </div>
    </>
  )
}
