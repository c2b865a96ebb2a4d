import { t } from '@lingui/core/macro'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { testsAddress } from '@/api/addresses'
import type { Analysis, Case, Diagnosis, EngineDetail, FindingKind } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { SimulatedVisits } from '@/design/SimulatedNotice'
import { useTitle } from '@/design/useTitle'
import { gapOf, type Gap } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { CoverBox } from '@/shared/CoverBox'
import { CaseHeading } from './CaseHeading'
import { CauseList, causeKey } from './CauseList'
import { Complaints } from './Complaints'
import { Contradictions } from './Contradictions'
import { EvidenceList } from './EvidenceList'
import { Ledger } from './Ledger'
import { NextTests } from './NextTests'
import { Notebook } from './Notebook'
import { Outcome } from './Outcome'
import { ENGINE, placeName, type Place } from './place'
import { PlaceChoice } from './PlaceChoice'
import { Recorded } from './Recorded'
import { Threads } from './Threads'
import { TryingOut } from './TryingOut'
import { usePickedCause } from './usePickedCause'
import { useTicks } from './useTicks'

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
  return text === '' ? t`New case` : text.charAt(0).toUpperCase() + text.slice(1)
}

/** A case: what was found, what causes it, where that sits, and what to test next. */
export function CaseView({
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
  const called = title(open, findings)
  useTitle(`${called}: ${engine.name ?? engine.id}`)
  const diagnosis = tried ?? noted
  const before = useMemo(
    () => new Map(noted.causes.map((cause) => [causeKey(cause), cause])),
    [noted],
  )
  const { listed, chosen, rows, likely, marked, alone, threaded } = usePickedCause(
    diagnosis,
    picked,
  )
  const gaps = useMemo(() => gapsAt(analysis, open.visit), [analysis, open.visit])
  const specs = useMemo(
    () => Object.fromEntries(analysis.valves.map((one) => [one.valve, one.spec])),
    [analysis],
  )

  return (
    <div className="mx-auto flex max-w-[1500px] flex-col gap-4">
      <CaseHeading engine={engine} open={open} title={called} carried={diagnosis.carried} />
      <SimulatedVisits visits={analysis.visits} />
      <Contradictions found={diagnosis.contradictions} />
      <Threads rows={rows} causes={threaded} alone={alone !== undefined}>
        <div className="grid grid-cols-1 gap-4 lg:grid-cols-[300px_minmax(0,1fr)_350px]">
          <Sheet title={alone ? t`Evidence` : t`Findings`}>
            <EvidenceList rows={rows} chosen={alone} />
          </Sheet>
          <Sheet title={chosen && likely ? t`Where ${chosen.label} would be` : t`As found`}>
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
                label={t`Plan of the head, readings as found; choose where something was seen`}
                className="max-h-[400px]"
              />
            </div>
          </Sheet>
          <Sheet
            title={t`Causes, most likely first`}
            aside={
              picked !== undefined && (
                <Button look="quiet" className="px-2!" onClick={() => setPicked(undefined)}>
                  {t`Show all`}
                </Button>
              )
            }
          >
            <CauseList
              diagnosis={diagnosis}
              causes={listed}
              before={tried && before}
              chosen={chosen && causeKey(chosen)}
              onChoose={setPicked}
            />
          </Sheet>
        </div>
      </Threads>
      <div className="grid grid-cols-1 items-start gap-4 lg:grid-cols-[330px_minmax(0,1fr)_minmax(0,1fr)]">
        <div className="flex flex-col gap-3">
          {open.closed !== null && (
            <p className="text-ink-soft">{t`The case is closed; reopen it to add findings.`}</p>
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
                  {t`Enter compression, leak-down and other measurements`}
                </Link>
                {open.closed === null && <CoverBox engineId={engine.id} visitId={open.visit} />}
              </>
            )}
          </NextTests>
          {open.visit !== null && <Recorded engineId={engine.id} visitId={open.visit} />}
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
