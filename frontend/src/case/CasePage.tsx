import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { engineAddress, measureAddress } from '@/api/addresses'
import type { Analysis, Case, Cause, Diagnosis, EngineDetail, FindingKind } from '@/api/client'
import { analysisQuery, engineQuery, findingsQuery } from '@/api/queries'
import { day } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { gapOf, type Gap } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { CauseList, causeKey } from './CauseList'
import { Complaints } from './Complaints'
import { Ledger } from './Ledger'
import { NextTests } from './NextTests'
import { caseQuery, diagnosisQuery } from './queries'

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
  const labels = new Map(findings.map((kind) => [kind.id, kind.label]))
  const present = open.findings.filter((finding) => finding.state === 'present')
  const text = present.map((finding) => labels.get(finding.id) ?? finding.id).join(', ')
  return text === '' ? 'What is complained of?' : text.charAt(0).toUpperCase() + text.slice(1)
}

function CaseView({
  detail: { engine },
  analysis,
  open,
  diagnosis,
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
  useTitle(`${title(open, findings)}: ${engine.name ?? engine.id}`)
  const chosen: Cause | undefined =
    diagnosis.causes.find((cause) => causeKey(cause) === picked) ?? diagnosis.causes[0]
  const gaps = useMemo(() => gapsAt(analysis, open.visit), [analysis, open.visit])
  const specs = useMemo(
    () => Object.fromEntries(analysis.valves.map((valve) => [valve.valve, valve.spec])),
    [analysis],
  )
  const likely = (chosen?.probability ?? 0) >= 0.05
  const marked = useMemo(() => new Set(chosen?.valves ?? []), [chosen])

  return (
    <div className="mx-auto max-w-[1500px]">
      <div className="mb-3 flex flex-wrap items-baseline gap-x-4">
        <h1>{title(open, findings)}</h1>
        <p>
          <Link to={engineAddress(engine.id)}>{engine.name ?? engine.id}</Link>, case {open.id},
          since {day(open.opened)}
          {open.visit && (
            <>
              , readings of{' '}
              <Link to={measureAddress(engine.id, open.visit)}>visit {open.visit}</Link>
            </>
          )}
        </p>
      </div>
      <div className="grid gap-4 lg:grid-cols-[290px_minmax(0,1fr)_minmax(0,1.1fr)]">
        <Complaints engineId={engine.id} open={open} findings={findings} />
        <div className="flex flex-col gap-4">
          <Sheet title="Causes, likeliest first">
            <CauseList
              diagnosis={diagnosis}
              chosen={chosen && causeKey(chosen)}
              onChoose={setPicked}
            />
          </Sheet>
          <NextTests tests={diagnosis.next_tests} />
          <Sheet title={chosen && likely ? `Where ${chosen.label} would sit` : 'As found'}>
            <div className="p-2">
              <HeadPlan
                valves={engine.valves}
                layout={engine.layout}
                specs={specs}
                gaps={gaps}
                unit={unit}
                marked={likely ? marked : undefined}
                label="Plan of the head, readings as found"
                className="max-h-[400px]"
              />
            </div>
          </Sheet>
        </div>
        {chosen && <Ledger cause={chosen} />}
      </div>
    </div>
  )
}
