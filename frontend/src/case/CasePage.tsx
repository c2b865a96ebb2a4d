import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { engineAddress, measureAddress, testsAddress } from '@/api/addresses'
import type { Analysis, Case, Cause, Diagnosis, EngineDetail, FindingKind } from '@/api/client'
import { analysisQuery, engineQuery, findingsQuery } from '@/api/queries'
import { day } from '@/design/format'
import { Button } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { SimulatedVisits } from '@/design/SimulatedNotice'
import { useTitle } from '@/design/useTitle'
import { gapOf, type Gap } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { CauseList, causeKey } from './CauseList'
import { Complaints } from './Complaints'
import { Ledger } from './Ledger'
import { CoverBox } from '@/shared/CoverBox'
import { Contradictions } from './Contradictions'
import { evidenceRows, shownCauses } from './evidence'
import { EvidenceList } from './EvidenceList'
import { NextTests } from './NextTests'
import { Notebook } from './Notebook'
import { Outcome } from './Outcome'
import { ENGINE, placeName, type Place } from './place'
import { PlaceChoice } from './PlaceChoice'
import { caseQuery, diagnosisQuery } from './queries'
import { Threads } from './Threads'
import { TryingOut } from './TryingOut'
import { useTicks } from './useTicks'

const WORTH_A_THREAD = 0.05

export function CasePage() {
  const { engineId = '', caseId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const analysis = useQuery(analysisQuery(engineId))
  const open = useQuery(caseQuery(engineId, caseId))
  const diagnosis = useQuery(diagnosisQuery(engineId, caseId))
  const findings = useQuery(findingsQuery)
  const queries = [engine, analysis, open, diagnosis, findings]
  const error = queries.find((query) => query.error)?.error
  if (engine.data && analysis.data && open.data && diagnosis.data && findings.data) {
    return (
      <CaseView
        detail={engine.data}
        analysis={analysis.data}
        open={open.data}
        diagnosis={diagnosis.data}
        findings={findings.data}
      />
    )
  }
  return error ? <ErrorNotice error={error} /> : <Loading what="the case" />
}

/** The readings as found at the case's visit, or at the last one. */
function gapsAt(analysis: Analysis, visit: string | null): Record<string, Gap | undefined> {
  return Object.fromEntries(
    analysis.valves.map((valve) => {
      const state = valve.history.find((one) => one.visit === visit) ?? valve.history.at(-1)
      return [valve.valve, state?.found ? gapOf(state.found) : undefined]
    }),
  )
}

/** A case is called by what is complained of. */
function title(open: Case, findings: FindingKind[]): string {
  const labels = new Map(
    findings.filter((kind) => kind.group === 'complaint').map((kind) => [kind.id, kind.label]),
  )
  const present = open.findings.filter((finding) => finding.state === 'present')
  const text = present.flatMap((finding) => labels.get(finding.id) ?? []).join(', ')
  return text === '' ? 'New case' : text.charAt(0).toUpperCase() + text.slice(1)
}

function CaseView({
  detail: { engine },
  analysis,
  open,
  diagnosis: noted,
  findings,
}: {
  detail: EngineDetail
  analysis: Analysis
  open: Case
  diagnosis: Diagnosis
  findings: FindingKind[]
}) {
  const { unit } = usePreferences()
  const [picked, setPicked] = useState<string>()
  const [valve, setValve] = useState<string>()
  const [at, setAt] = useState<Place>(ENGINE)
  const { ticks, trying, setTrying, supposed, keep, drop, error, tried } = useTicks(engine.id, open)
  useTitle(`${title(open, findings)}: ${engine.name ?? engine.id}`)
  const diagnosis = tried ?? noted
  const before = useMemo(
    () => new Map(noted.causes.map((cause) => [causeKey(cause), cause.probability])),
    [noted],
  )
  const shown = useMemo(() => shownCauses(diagnosis), [diagnosis])
  const chosen: Cause | undefined =
    diagnosis.causes.find((cause) => causeKey(cause) === picked) ?? diagnosis.causes[0]
  const rows = useMemo(
    () => evidenceRows(chosen && !shown.includes(chosen) ? [...shown, chosen] : shown, chosen),
    [shown, chosen],
  )
  const gaps = useMemo(() => gapsAt(analysis, open.visit), [analysis, open.visit])
  const specs = useMemo(
    () => Object.fromEntries(analysis.valves.map((one) => [one.valve, one.spec])),
    [analysis],
  )
  const likely = (chosen?.probability ?? 0) >= 0.05
  const marked = useMemo(() => new Set(chosen?.valves ?? []), [chosen])
  // Until a cause is chosen the threads of all that are likely at all are drawn, pale.
  const alone = picked === undefined ? undefined : chosen && causeKey(chosen)
  const threaded = useMemo(
    () =>
      new Set(
        alone === undefined
          ? shown.filter((cause) => cause.probability >= WORTH_A_THREAD).map(causeKey)
          : [alone],
      ),
    [shown, alone],
  )

  return (
    <div className="mx-auto flex max-w-[1500px] flex-col gap-4">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1>{title(open, findings)}</h1>
        <p>
          <Link to={engineAddress(engine.id)}>{engine.name ?? engine.id}</Link>, case {open.id},
          since {day(open.opened)}
          {open.closed && <>, closed {day(open.closed)}</>}
          {open.visit && (
            <>
              , readings from{' '}
              <Link to={measureAddress(engine.id, open.visit)}>visit {open.visit}</Link>
            </>
          )}
        </p>
      </div>
      <SimulatedVisits visits={analysis.visits} />
      {diagnosis.carried && (
        <p className="border-l-6 border-accent bg-sheet px-4 py-1">
          Nothing was measured for this case: clearances are projected from visit{' '}
          {diagnosis.carried.visit}, {diagnosis.carried.days} days before it (
          {diagnosis.carried.intervals.toFixed(1)} check intervals). They allow for wear, not for
          anything that happened since: measuring again is among the tests.
        </p>
      )}
      <Contradictions found={diagnosis.contradictions} />
      <Threads rows={rows} causes={threaded} alone={alone !== undefined}>
        <div className="grid gap-4 lg:grid-cols-[300px_minmax(0,1fr)_350px]">
          <Sheet title={alone ? 'Evidence' : 'Findings'}>
            <EvidenceList rows={rows} chosen={alone} />
          </Sheet>
          <Sheet title={chosen && likely ? `Where ${chosen.label} would be` : 'As found'}>
            <div className="p-2" data-threads="plan">
              <HeadPlan
                valves={engine.valves}
                layout={engine.layout}
                specs={specs}
                gaps={gaps}
                unit={unit}
                marked={likely ? marked : undefined}
                selected={valve}
                onSelect={(id) => {
                  setValve(id)
                  const one = engine.valves.find((each) => each.id === id)
                  if (one) setAt({ cylinder: one.cylinder, side: one.side })
                }}
                label="Plan of the head, readings as found; choose where something was seen"
                className="max-h-[400px]"
              />
            </div>
          </Sheet>
          <Sheet
            title="Causes, most likely first"
            aside={
              picked !== undefined && (
                <Button look="quiet" className="px-2!" onClick={() => setPicked(undefined)}>
                  Show all
                </Button>
              )
            }
          >
            <CauseList
              diagnosis={diagnosis}
              causes={shown}
              before={tried && before}
              chosen={chosen && causeKey(chosen)}
              onChoose={setPicked}
            />
          </Sheet>
        </div>
      </Threads>
      <div className="grid items-start gap-4 lg:grid-cols-[330px_minmax(0,1fr)_minmax(0,1fr)]">
        <div className="flex flex-col gap-3">
          {open.closed !== null && (
            <p className="text-ink-soft">The case is closed; reopen it to add findings.</p>
          )}
          <PlaceChoice
            valves={engine.valves}
            picked={engine.valves.find((one) => one.id === valve)}
            at={at}
            onChange={setAt}
          />
          <TryingOut
            trying={trying}
            onChange={setTrying}
            count={supposed.length}
            onKeep={() => void keep()}
            onDrop={drop}
            disabled={open.closed !== null}
          />
          {error && <ErrorNotice error={error} />}
          <Complaints
            open={open}
            findings={findings}
            at={at}
            atName={placeName(at, engine.valves)}
            ticks={ticks}
            disabled={open.closed !== null}
          />
        </div>
        <div className="flex flex-col gap-4">
          <NextTests tests={noted.next_tests}>
            {open.visit !== null && (
              <>
                <Link to={testsAddress(engine.id, open.visit)}>
                  Enter compression, leak-down and other measurements
                </Link>
                {open.closed === null && <CoverBox engineId={engine.id} visitId={open.visit} />}
              </>
            )}
          </NextTests>
          <Notebook engineId={engine.id} caseId={open.id} />
        </div>
        <div className="flex flex-col gap-4">
          {chosen && <Ledger cause={chosen} />}
          <Outcome
            key={open.closed}
            engineId={engine.id}
            open={open}
            causes={noted.causes}
            chosen={likely ? chosen : undefined}
            learnedCases={noted.learned_cases}
            valves={engine.valves}
          />
        </div>
      </div>
    </div>
  )
}
