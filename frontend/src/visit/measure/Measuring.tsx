import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { Analysis, BladeSet, CrankPlan, EngineDetail, Visit } from '@/api/client'
import { AnswerButtons } from '@/blades/AnswerButtons'
import { feltAt } from '@/blades/bladeChoice'
import { BladeFan, printsOf } from '@/blades/BladeFan'
import { length, lengthFigure } from '@/design/format'
import { Empty } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { useTitle } from '@/design/useTitle'
import { PhaseChoice } from '@/visit/shared/PhaseChoice'
import { PositionAlert } from '@/visit/shared/PositionAlert'
import { FailureNotice } from './FailureNotice'
import { FirstVisitPointers } from './FirstVisitPointers'
import { HandLine } from './HandLine'
import { PlanColumn } from './PlanColumn'
import { ReadingLine } from './ReadingLine'
import { useListening } from './useListening'
import { useMeasuringKeys } from './useMeasuringKeys'
import { useValveWork } from './useValveWork'
import { ValveActions } from './ValveActions'
import { WithinReach } from './WithinReach'
import { named } from '@/design/names'

/** One valve after the other: the blade in the hand, what it felt like, what that comes to. */
export function Measuring({
  detail,
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
  const { unit } = usePreferences()
  const { engine } = detail
  const work = useValveWork({ engine, analysis, visit, plan, bladeSet })
  const listening = useListening(engine, visit, work)
  useMeasuringKeys(work, listening.toggle)
  const { valve, phase, known, turn, tries, choice, take, hand, advice } = work
  useTitle(t`${valve}, visit ${visit.id}: ${engine.name ?? engine.id}`)

  if (!known)
    return (
      <Empty>
        <Trans>This engine has no valve {valve}. Choose one on the plan.</Trans>
      </Empty>
    )
  const advised = advice?.blades_mm ?? []
  const spec =
    known.spec &&
    t`, spec ${lengthFigure(known.spec.min_mm, unit)} to ${length(known.spec.max_mm, unit)}${engine.source ? '' : t`, source not given`}`
  return (
    <>
      {visit.first_of_all && <FirstVisitPointers />}
      <PositionAlert engineId={engine.id} visitId={visit.id} positions={visit.positions} />
      <div className="grid gap-x-6 gap-y-2 lg:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)]">
        <PlanColumn
          detail={detail}
          analysis={analysis}
          visit={visit}
          plan={plan}
          work={work}
          bladeSetName={bladeSet.name}
          listening={listening}
          onOtherBlades={onOtherBlades}
        />
        <section aria-label={t`Measuring valve ${valve}`} className="flex min-w-0 flex-col gap-2">
          <div className="flex items-center justify-between gap-2">
            <h1 className="min-w-0">
              {valve}{' '}
              <span className="text-base font-normal text-ink-soft">
                <Trans>
                  cylinder {known.cylinder}, {named(known.side)}
                  {spec}
                </Trans>
                {turn > 1 && t`, turn ${turn} of the crank`}
              </span>
            </h1>
            <div data-pointer="phase" className="shrink-0">
              <PhaseChoice phase={phase} onChange={work.setPhase} />
            </div>
          </div>
          <BladeFan
            bladesMm={choice.bladesMm}
            chosen={choice.typed ? -1 : choice.at}
            felt={feltAt(choice.bladesMm, tries)}
            advisedMm={advised}
            prints={printsOf(bladeSet.unit, unit)}
            onChoose={(at) => take({ type: 'choose', at })}
          />
          <div className="bottom-0 z-10 flex flex-col gap-2 bg-paper py-1 lg:p-0 max-lg:[@media(height>=30rem)]:sticky">
            <HandLine
              key={work.place}
              hand={hand}
              advised={advised.length > 0 && advised.join() === hand.join()}
              stacked={choice.stacked.length > 0}
              bladesMm={work.bladesMm}
              unit={unit}
              typing={work.typing}
              onTyping={work.setTyping}
              onStack={work.stack}
              onTyped={(blades) => {
                take({ type: 'typed', bladesMm: blades })
                work.setTyping(false)
              }}
              onRead={work.enter}
            />
            <div data-pointer="answers">
              <AnswerButtons onAnswer={work.answer} />
            </div>
            <WithinReach work={work} />
          </div>
          <ReadingLine
            valve={valve}
            phase={phase}
            tries={tries}
            estimate={work.estimate}
            advice={advice}
            assessed={known.spec !== null}
            skipped={work.measured?.skipped ?? null}
            unit={unit}
            temperatures={{ at: visit.temperature_c, reference: visit.reference_temperature_c }}
            onTakeBack={work.takeBack}
            onClear={work.clear}
          />
          <ValveActions work={work} visit={visit} />
          {work.failure && (
            <FailureNotice failure={work.failure} onSendAgain={work.sendAll} onLetGo={work.letGo} />
          )}
        </section>
      </div>
    </>
  )
}
