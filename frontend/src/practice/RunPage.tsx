import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { practiceAddress, practiceTraceAddress } from '@/api/addresses'
import type { PracticeRun } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { gapOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { InstrumentPanel } from '@/instruments/InstrumentPanel'
import { useKeys } from '@/design/useKeys'
import { CrankView } from './CrankView'
import { AskTheCase, Listening } from './Listening'
import { NameIt } from './NameIt'
import { ReviewSheet } from './ReviewSheet'
import { runQuery, useRun } from './queries'
import { ValveWork } from './ValveWork'

/** A run on the practice engine: turn, waggle, measure, set, say what it is, and see the truth. */
export function RunPage() {
  const { runId = '' } = useParams()
  const { data, error } = useQuery(runQuery(runId))
  useTitle(data?.lesson?.title ?? t`Practice engine`)
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the engine`} />
  return <Run run={data} />
}

const TURNS = [
  { deg: 10, key: 'T' },
  { deg: 45, key: 'Y' },
  { deg: 180, key: 'U' },
]

function Run({ run }: { run: PracticeRun }) {
  const { unit } = usePreferences()
  const doing = useRun(run.id)
  const [selected, setSelected] = useState(run.engine.valves[0]?.id ?? '')
  const [tab, setTab] = useState(0)
  const ended = run.review !== null
  const turn = (by_deg: number) => !ended && doing.step.mutate({ kind: 'turn', by_deg })
  useKeys((event) => {
    if (event.target instanceof HTMLElement && event.target.matches('input, select, textarea'))
      return
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const pressed = TURNS.find((one) => one.key === event.key.toUpperCase())
    if (pressed) turn(pressed.deg)
  })

  const gaps = Object.fromEntries(
    run.valves.map((one) => {
      const says = one.left_says ?? one.found_says
      return [one.valve, says ? gapOf(says) : undefined]
    }),
  )
  const specs = Object.fromEntries(run.valves.map((one) => [one.valve, one.spec]))
  const failed = doing.step.error ?? doing.trace.error ?? doing.end.error ?? doing.hint.error
  return (
    <div className="mx-auto max-w-[1400px]">
      <Heading run={run} doing={doing} />
      {failed && <ErrorNotice error={failed} />}
      {run.review && <ReviewSheet run={run} review={run.review} />}
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.05fr)]">
        <Sheet
          title={t`Engine`}
          aside={
            <span className="text-sm text-ink-soft">
              <Trans>turned {Math.round(run.crank_deg)} degrees further</Trans>
            </span>
          }
        >
          <div className="flex flex-col gap-2 p-3">
            <CrankView run={run} selected={selected} />
            <div
              role="group"
              aria-label={t`Turn the crank in the direction of rotation`}
              className="flex gap-2"
            >
              {TURNS.map(({ deg, key }) => (
                <Button
                  key={deg}
                  className="grow"
                  disabled={ended || doing.step.isPending}
                  onClick={() => turn(deg)}
                >
                  <Trans>
                    turn {deg}° <span className="text-sm text-ink-soft">( {key} )</span>
                  </Trans>
                </Button>
              ))}
            </div>
            <HeadPlan
              valves={run.engine.valves}
              layout={run.engine.layout}
              specs={specs}
              gaps={gaps}
              unit={unit}
              selected={selected}
              onSelect={setSelected}
              label={t`Plan of the head of the practice engine`}
              className="max-h-[300px]"
            />
          </div>
        </Sheet>
        <section className="rounded-card border border-rule bg-sheet">
          <TabGroup selectedIndex={tab} onChange={setTab}>
            <TabList className="flex border-b border-rule">
              {[
                t`Valve ${selected}`,
                t`Instruments`,
                t`Sound`,
                t`Diagnosis`,
                t`Log (${run.steps})`,
              ].map((name) => (
                <Tab
                  key={name.split(' ')[0]}
                  className="min-h-12 grow border-b-3 border-transparent px-3 data-selected:border-accent data-selected:font-semibold"
                >
                  {name}
                </Tab>
              ))}
            </TabList>
            <TabPanels>
              <TabPanel>
                <ValveWork
                  key={selected}
                  run={run}
                  valveId={selected}
                  doing={doing}
                  onNext={() => setSelected(after(run, selected))}
                />
              </TabPanel>
              <TabPanel className="p-4">
                {ended ? (
                  <p>{t`This run is finished.`}</p>
                ) : (
                  <InstrumentPanel
                    kinds={run.kinds}
                    valves={run.engine.valves}
                    addressOf={(kind, held) => practiceTraceAddress(run.id, kind.id, held)}
                    onEnd={(kind, held, trace) =>
                      doing.trace.mutate({
                        kind: kind.id,
                        valve: held.valve ?? null,
                        cylinder: held.cylinder ?? null,
                        oiled: held.oiled ?? false,
                        samples: trace.samples,
                      })
                    }
                  />
                )}
              </TabPanel>
              <TabPanel className="max-h-[620px] overflow-y-auto p-4">
                <Listening run={run} doing={doing} />
              </TabPanel>
              <TabPanel className="p-4">
                <NameIt run={run} doing={doing} />
                <AskTheCase run={run} />
              </TabPanel>
              <TabPanel className="max-h-[520px] overflow-y-auto p-4">
                {run.log.length === 0 && <p className="text-ink-soft">{t`Nothing done yet.`}</p>}
                <ol className="list-decimal pl-8 text-sm">
                  {run.log.map((line, index) => (
                    <li key={`${index} ${line}`}>{line}</li>
                  ))}
                </ol>
              </TabPanel>
            </TabPanels>
          </TabGroup>
        </section>
      </div>
    </div>
  )
}

/** What the run is, the complaint, and its end. */
function Heading({ run, doing }: { run: PracticeRun; doing: ReturnType<typeof useRun> }) {
  return (
    <>
      <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
        <h1>{run.lesson ? `${run.lesson.grade}. ${run.lesson.title}` : run.engine.name}</h1>
        <div className="flex flex-wrap gap-2">
          <Link to={practiceAddress} className={buttonClass('quiet')}>
            {t`The lessons`}
          </Link>
          {run.review === null && (
            <Button look="main" onClick={() => doing.end.mutate()} disabled={doing.end.isPending}>
              {t`Finish and see the true values`}
            </Button>
          )}
        </div>
      </div>
      <p className="mb-2">
        <strong>“{run.complaint}”</strong> {run.lesson?.task}
      </p>
      {run.lesson && (
        <p className="mb-2 border-l-6 border-loose bg-sheet px-3 py-1 text-[0.95rem]">
          {run.lesson.caution}
        </p>
      )}
    </>
  )
}

/** The valve after one, in the engine's order. */
function after(run: PracticeRun, valve: string): string {
  const ids = run.engine.valves.map((one) => one.id)
  return ids[(ids.indexOf(valve) + 1) % ids.length] ?? valve
}
