import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { measureAddress, stopAddress } from '@/api/addresses'
import type { Decided, EngineDetail, JudgedValve, Judgement, Visit } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { doubt, movement, type LengthUnit } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { PriceLines } from '@/shared/PriceLines'
import { ASSUMED_REFERENCE_C, gapOf } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { AssessmentTable } from './AssessmentTable'
import { PositionAlert } from '@/visit/shared/PositionAlert'
import { judgementQuery, useDecide } from '@/shared/visitQueries'
import { PreloadStand } from '@/visit/shared/PreloadStand'
import { StepPage } from '@/visit/shared/StepPage'
import { isHydraulic } from '@/visit/shared/StepLine'

/** What the readings come to, each beside its neighbours and last time; what is to be done with each valve. */
export function AssessPage() {
  return (
    <StepPage at="judge" title="Judge">
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
  const { data, error } = useQuery(judgementQuery(detail.engine.id, visit.id))
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what="the judgement" />
  return <Judging detail={detail} visit={visit} judgement={data} />
}

function Judging({
  detail: { engine },
  visit,
  judgement,
}: {
  detail: EngineDetail
  visit: Visit
  judgement: Judgement
}) {
  const { unit } = usePreferences()
  const [picked, setPicked] = useState<string>()
  const decide = useDecide(engine.id, visit.id)
  const { valves } = judgement
  const undecided = valves.filter((one) => !one.decided)
  const wanted = valves.filter((one) => one.needs_number && one.advice?.blades_mm)
  const again = valves.filter((one) => one.advised === 'look-again' && one.standing !== null)

  const note = (judged: JudgedValve, decided: Decided | null) =>
    decide.mutate({ valve: judged.valve, decided, was: judged.decided })

  function takeAdvised() {
    for (const one of undecided) note(one, { decision: one.advised, reason: '' })
  }

  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>Judge</h1>
        <div className="no-print flex flex-wrap gap-2">
          <Button onClick={takeAdvised} disabled={undecided.length === 0 || decide.isPending}>
            {undecided.length === 0
              ? 'All are decided'
              : `Take what is advised for ${undecided.length === valves.length ? 'all' : `the other ${undecided.length}`}`}
          </Button>
          {valves.some((one) => one.decided?.decision === 'set') && (
            <Link to={stopAddress(engine.id, visit.id, 'set')} className={buttonClass('main')}>
              On to Set
            </Link>
          )}
          {again[0] && (
            <Link
              to={measureAddress(engine.id, visit.id, again[0].valve)}
              className={buttonClass()}
            >
              Measure {again.map((one) => one.valve).join(' ')} again
            </Link>
          )}
        </div>
      </div>
      {decide.error && <ErrorNotice error={decide.error} />}
      <PositionAlert engineId={engine.id} visitId={visit.id} positions={judgement.positions} />
      {wanted[0] && (
        <p role="status" className="mb-2 border-2 border-accent bg-sheet px-4 py-2">
          <strong>
            To choose a shim the clearance of {wanted.map((one) => one.valve).join(' ')} is needed;
          </strong>{' '}
          so far only a bound is known.{' '}
          <Link to={measureAddress(engine.id, visit.id, wanted[0].valve)}>
            Measure {wanted.map((one) => one.valve).join(' ')} further
          </Link>
        </p>
      )}
      <div className="grid gap-4 items-start lg:grid-cols-[minmax(0,26rem)_minmax(0,1fr)] lg:grid-rows-[auto_1fr]">
        <Sheet title="The head as judged">
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
              onSelect={setPicked}
              label="Plan of the head, verdicts of this visit"
              className="max-h-[300px]"
            />
          </div>
        </Sheet>
        <Sheet
          title="Valve by valve"
          aside={
            <Link to={stopAddress(engine.id, visit.id, 'measure')} className="no-print">
              back to Measure
            </Link>
          }
          className="min-w-0 overflow-x-auto lg:row-span-2"
        >
          <AssessmentTable
            valves={valves}
            temperatures={{
              at: judgement.temperature_c,
              reference: judgement.reference_temperature_c,
            }}
            unit={unit}
            engineId={engine.id}
            visitId={visit.id}
            picked={picked}
            onDecide={note}
          />
        </Sheet>
        <div className="flex min-w-0 flex-col gap-4">
          <Sheet title="What else moved the figures">
            <Effects judgement={judgement} unit={unit} />
          </Sheet>
          <Sheet title="What setting would cost">
            <PriceLines engineId={engine.id} usage={visit.usage} />
          </Sheet>
        </div>
      </div>
    </>
  )
}

/** What the temperature did to the figures, and whether the whole visit seems to be off. */
function Effects({ judgement, unit }: { judgement: Judgement; unit: LengthUnit }) {
  const { corrections, shift, temperature_c: at, reference_temperature_c: reference } = judgement
  return (
    <div className="flex flex-col gap-1 px-4 py-2">
      {Object.entries(corrections).map(([side, { correction_mm, uncertainty_mm }]) => (
        <p key={side}>
          <strong>{side}:</strong>{' '}
          {at === null
            ? `temperature not noted; each reading may be off by ${doubt(uncertainty_mm, unit)}.`
            : correction_mm === 0 && uncertainty_mm === 0
              ? 'nothing corrected.'
              : `${movement(correction_mm, unit)} for ${at} °C${
                  reference === null
                    ? ` against an assumed ${ASSUMED_REFERENCE_C} °C (the manual states none)`
                    : ` against ${reference} °C`
                }, give or take ${doubt(uncertainty_mm, unit)}.`}
        </p>
      ))}
      {shift &&
        (shift.suspect ? (
          <p className="font-semibold text-loose">
            All {shift.readings} readings lie {movement(shift.mean_mm, unit)} from what was
            foretold, more than chance would do: is the temperature right, or another set or hand at
            work? Measure two or three again before setting any.
          </p>
        ) : (
          <p>
            All together the readings lie {movement(shift.mean_mm, unit)} from what was foretold,
            give or take {doubt(shift.sd_mm, unit)}: no shift of the whole visit to suspect.
          </p>
        ))}
      {!shift && (
        <p className="text-ink-soft">
          Nothing was foretold for this visit, so a shift of all readings together cannot be told.
        </p>
      )}
    </div>
  )
}
