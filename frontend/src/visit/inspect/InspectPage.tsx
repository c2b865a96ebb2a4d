import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { stepAddress, testsAddress } from '@/api/addresses'
import type { EngineDetail, FindingKind, Valve, Visit } from '@/api/client'
import { analysisQuery, findingsQuery } from '@/api/queries'
import { Button, buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { TriState, type State } from '@/design/TriState'
import { specsOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { isAt, kindsFor } from './inspection'
import { useNoteVisitFinding } from '@/visit/shared/findingQueries'
import { usePhotographedValves } from '@/shared/photographQueries'
import { CoverBox } from '@/shared/CoverBox'
import { Cautions, StepPage } from '@/visit/shared/StepPage'
import { named } from '@/design/names'

/** What is seen before anything is measured: valve by valve on the plan, and in the oil. */
export function InspectPage() {
  return (
    <StepPage at="inspect" title={t`Inspect`}>
      {(detail, visit) => <LookingIn detail={detail} visit={visit} />}
    </StepPage>
  )
}

function LookingIn({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { engine } = detail
  const { unit } = usePreferences()
  const analysis = useQuery(analysisQuery(engine.id))
  const findings = useQuery(findingsQuery)
  const note = useNoteVisitFinding(engine.id, visit.id)
  const photographed = usePhotographedValves(engine.id, visit.id)
  const [selected, setSelected] = useState(engine.valves[0]?.id ?? '')
  const error = analysis.error ?? findings.error
  if (!analysis.data || !findings.data) {
    return error ? <ErrorNotice error={error} /> : <Loading what={t`what to inspect`} />
  }
  const kinds = kindsFor(findings.data, engine.adjustment)
  const ofValves = kinds.filter((kind) => !kind.of_engine)
  const valve = engine.valves.find((one) => one.id === selected) ?? engine.valves[0]

  const flags = Object.fromEntries(
    engine.valves.map((one) => {
      const here = visit.findings.filter((finding) => isAt(finding, one))
      const seen = here.filter((finding) => finding.state === 'present').length
      const looked = here.some((finding) => finding.state === 'absent')
      return [one.id, seen > 0 ? t`${seen} seen` : looked ? 'nothing' : '']
    }),
  )

  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Inspect`}</h1>
        <div className="flex flex-wrap gap-2">
          <Link to={testsAddress(engine.id, visit.id)} className={buttonClass()}>
            {t`Measurements and tests`}
          </Link>
          <Link to={stepAddress(engine.id, visit.id, 'position')} className={buttonClass('main')}>
            {t`Next: Position`}
          </Link>
        </div>
      </div>
      {note.error && <ErrorNotice error={note.error} />}
      <div className="mb-2">
        <CoverBox engineId={engine.id} visitId={visit.id} />
      </div>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)]">
        <div className="flex min-w-0 flex-col gap-4">
          <Sheet
            title={t`Where`}
            aside={
              <span className="text-sm text-ink-soft">{t`choose a valve; arrow keys move`}</span>
            }
          >
            <div className="p-3">
              <HeadPlan
                valves={engine.valves}
                layout={engine.layout}
                specs={specsOf(analysis.data)}
                gaps={{}}
                flags={flags}
                unit={unit}
                selected={valve?.id}
                photographed={photographed}
                onSelect={setSelected}
                label={t`Plan of the head, what was found`}
                className="max-h-[420px]"
              />
            </div>
          </Sheet>
          <Sheet title={t`Oil`}>
            <Rows
              kinds={kinds.filter((kind) => kind.of_engine)}
              stateOf={(kind) =>
                visit.findings.find((one) => one.id === kind.id && !one.cylinder && !one.side)
                  ?.state ?? 'unknown'
              }
              onChange={(kind, state, was) => note.mutate({ id: kind.id, state, was })}
            />
          </Sheet>
          <Cautions detail={detail} step="inspect" />
        </div>
        {valve && (
          <AtValve
            key={valve.id}
            valve={valve}
            alike={engine.valves.filter(
              (one) => one.cylinder === valve.cylinder && one.side === valve.side,
            )}
            kinds={ofValves}
            visit={visit}
            onNote={(kind, state, was) =>
              note.mutate({
                id: kind.id,
                state,
                was,
                cylinder: valve.cylinder,
                side: valve.side,
              })
            }
          />
        )}
      </div>
    </>
  )
}

type Change = (kind: FindingKind, state: State, was: State) => void

function AtValve({
  valve,
  alike,
  kinds,
  visit,
  onNote,
}: {
  valve: Valve
  /** The valves of this cylinder and side: what is noted is noted of them together. */
  alike: Valve[]
  kinds: FindingKind[]
  visit: Visit
  onNote: Change
}) {
  const stateOf = (kind: FindingKind): State =>
    visit.findings.find((one) => one.id === kind.id && isAt(one, valve))?.state ?? 'unknown'
  const open = kinds.filter((kind) => stateOf(kind) === 'unknown')
  return (
    <Sheet
      title={t`At ${alike.map((one) => one.id).join(t` and `)}: cylinder ${valve.cylinder}, ${named(valve.side)}`}
      aside={
        <Button
          look="quiet"
          disabled={open.length === 0}
          onClick={() => open.forEach((kind) => onNote(kind, 'absent', 'unknown'))}
        >
          {t`nothing else found here`}
        </Button>
      }
    >
      <Rows kinds={kinds} stateOf={stateOf} onChange={onNote} showHelp />
    </Sheet>
  )
}

function Rows({
  kinds,
  stateOf,
  onChange,
  showHelp = false,
}: {
  kinds: FindingKind[]
  stateOf: (kind: FindingKind) => State
  onChange: Change
  showHelp?: boolean
}) {
  return (
    <ul>
      {kinds.map((kind) => (
        <TriState
          key={kind.id}
          name={kind.id}
          label={kind.label}
          help={kind.help}
          showHelp={showHelp}
          state={stateOf(kind)}
          onChange={(state) => onChange(kind, state, stateOf(kind))}
        />
      ))}
    </ul>
  )
}
