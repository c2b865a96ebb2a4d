import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import { Link } from 'react-router'
import { measureAddress, stepAddress } from '@/api/addresses'
import type { Decided, EngineDetail, AssessedValve, Assessment, Visit } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { sdText, movement, type LengthUnit } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { usePhotographedValves } from '@/shared/photographQueries'
import { PriceLines } from '@/shared/PriceLines'
import { ASSUMED_REFERENCE_C, gapOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { AssessmentTable } from './AssessmentTable'
import { PositionAlert } from '@/visit/shared/PositionAlert'
import { useAssessment, useDecide } from '@/visit/shared/assessmentQueries'
import { PreloadStand } from '@/visit/shared/PreloadStand'
import { StepPage } from '@/visit/shared/StepPage'
import { isHydraulic } from '@/visit/shared/StepLine'
import { named } from '@/design/names'

/** What the readings come to, each beside its neighbours and last time; what is to be done with each valve. */
export function AssessPage() {
  return (
    <StepPage at="assess" title={t`Assess`}>
      {(detail, visit) =>
        isHydraulic(detail.engine) ? (
          <PreloadStand detail={detail} visit={visit} />
        ) : (
          <Fetching detail={detail} visit={visit} />
        )
      }
    </StepPage>
  )
}

function Fetching({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { data, error } = useAssessment(detail.engine.id, visit.id)
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the assessment`} />
  return <Judging detail={detail} visit={visit} assessment={data} />
}

function Judging({
  detail: { engine },
  visit,
  assessment,
}: {
  detail: EngineDetail
  visit: Visit
  assessment: Assessment
}) {
  const { unit } = usePreferences()
  const [picked, setPicked] = useState<string>()
  const decide = useDecide(engine.id, visit.id)
  const photographed = usePhotographedValves(engine.id, visit.id)
  const { valves } = assessment
  const undecided = valves.filter((one) => !one.decided)
  const wanted = valves.filter((one) => one.needs_number && one.advice?.blades_mm)
  const again = valves.filter((one) => one.advised === 'look-again' && one.standing !== null)

  const note = (assessed: AssessedValve, decided: Decided | null) =>
    decide.mutateAsync({ valve: assessed.valve, decided, was: assessed.decided })

  function takeAdvised() {
    for (const one of undecided)
      note(one, { decision: one.advised, reason: '' }).catch(() => undefined)
  }

  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Assess`}</h1>
        <div className="no-print flex flex-wrap gap-2">
          <Button onClick={takeAdvised} disabled={undecided.length === 0 || decide.isPending}>
            {undecided.length === 0
              ? t`All valves are decided`
              : undecided.length === valves.length
                ? t`Accept all recommendations`
                : t`Accept the other ${undecided.length} recommendations`}
          </Button>
          {valves.some((one) => one.decided?.decision === 'set') && (
            <Link to={stepAddress(engine.id, visit.id, 'adjust')} className={buttonClass('main')}>
              {t`Next: Adjust`}
            </Link>
          )}
          {again[0] && (
            <Link
              to={measureAddress(engine.id, visit.id, again[0].valve)}
              className={buttonClass()}
            >
              <Trans>Measure {again.map((one) => one.valve).join(' ')} again</Trans>
            </Link>
          )}
        </div>
      </div>
      {decide.error && <ErrorNotice error={decide.error} />}
      <PositionAlert engineId={engine.id} visitId={visit.id} positions={assessment.positions} />
      {wanted[0] && (
        <p role="status" className="mb-2 border-2 border-accent bg-sheet px-4 py-2">
          <Trans>
            <strong>
              To choose a shim the clearance of {wanted.map((one) => one.valve).join(' ')} is
              needed;
            </strong>{' '}
            so far only a bound is known.{' '}
            <Link to={measureAddress(engine.id, visit.id, wanted[0].valve)}>
              Measure {wanted.map((one) => one.valve).join(' ')} further
            </Link>
          </Trans>
        </p>
      )}
      <div className="grid gap-4 items-start lg:grid-cols-[minmax(0,26rem)_minmax(0,1fr)] lg:grid-rows-[auto_1fr]">
        <Sheet title={t`Head as assessed`}>
          <div className="p-3">
            <HeadPlan
              valves={engine.valves}
              layout={engine.layout}
              specs={Object.fromEntries(valves.map((one) => [one.valve, one.spec]))}
              gaps={Object.fromEntries(
                valves.map((one) => [one.valve, one.standing ? gapOf(one.standing) : undefined]),
              )}
              unit={unit}
              selected={picked}
              photographed={photographed}
              onSelect={setPicked}
              label={t`Plan of the head, verdicts of this visit`}
              className="max-h-[300px]"
            />
          </div>
        </Sheet>
        <Sheet
          title={t`Valve by valve`}
          aside={
            <Link to={stepAddress(engine.id, visit.id, 'measure')} className="no-print">
              {t`back to Measure`}
            </Link>
          }
          className="min-w-0 overflow-x-auto lg:row-span-2"
        >
          <AssessmentTable
            valves={valves}
            temperatures={{
              at: assessment.temperature_c,
              reference: assessment.reference_temperature_c,
            }}
            unit={unit}
            engineId={engine.id}
            visitId={visit.id}
            picked={picked}
            onDecide={note}
          />
        </Sheet>
        <div className="flex min-w-0 flex-col gap-4">
          <Sheet title={t`Systematic effects`}>
            <Effects assessment={assessment} unit={unit} />
          </Sheet>
          <Sheet title={t`Cost of adjusting`}>
            <PriceLines engineId={engine.id} usage={visit.usage} />
          </Sheet>
        </div>
      </div>
    </>
  )
}

/** What the temperature did to the figures, and whether the whole visit seems to be off. */
function Effects({ assessment, unit }: { assessment: Assessment; unit: LengthUnit }) {
  const { corrections, shift, temperature_c: at, reference_temperature_c: reference } = assessment
  return (
    <div className="flex flex-col gap-1 px-4 py-2">
      {Object.entries(corrections).map(([side, { correction_mm, uncertainty_mm }]) => (
        <p key={side}>
          <strong>{named(side)}:</strong>{' '}
          {at === null
            ? t`temperature not entered; each reading may be off by ${sdText(uncertainty_mm, unit)}.`
            : correction_mm === 0 && uncertainty_mm === 0
              ? t`no correction.`
              : t`${movement(correction_mm, unit)} for ${at} °C${
                  reference === null
                    ? t` against an assumed ${ASSUMED_REFERENCE_C} °C (the manual states none)`
                    : t` against ${reference} °C`
                } (± ${sdText(uncertainty_mm, unit)}).`}
        </p>
      ))}
      {shift &&
        (shift.suspect ? (
          <p className="font-semibold text-loose">
            <Trans>
              All {shift.readings} readings lie {movement(shift.mean_mm, unit)} from the
              predictions, more than chance explains: is the temperature right? Was another feeler
              gauge set or technician at work? Re-measure two or three valves before adjusting any.
            </Trans>
          </p>
        ) : (
          <p>
            <Trans>
              Common offset of this visit: {movement(shift.mean_mm, unit)} ±{' '}
              {sdText(shift.sd_mm, unit)} against the predictions, nothing unusual.
            </Trans>
          </p>
        ))}
      {!shift && (
        <p className="text-ink-soft">
          {t`There are no predictions for this visit, so a common offset cannot be determined.`}
        </p>
      )}
    </div>
  )
}
