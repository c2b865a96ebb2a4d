import { plural, t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { cardAddress, caseAddress, measureAddress } from '@/api/addresses'
import type { EngineDetail, Verification, Visit } from '@/api/client'
import { buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { ClosingUp } from './ClosingUp'
import { ComplaintOutcomes } from './ComplaintOutcomes'
import { NextCheckChoice } from './NextCheckChoice'
import { PartsUsed } from './PartsUsed'
import { SoundAfter } from './SoundAfter'
import { BeforeAndAfter } from './BeforeAndAfter'
import { verificationQuery } from '@/shared/verifyQueries'
import { Cautions, StepPage } from '@/visit/shared/StepPage'
import { WorkDone } from '@/visit/shared/WorkState'

/** Closed up item by item, started cold, and complaint by complaint whether it is gone. */
export function VerifyPage() {
  return (
    <StepPage at="verify" title={t`Verify`}>
      {(detail, visit) => <Fetching detail={detail} visit={visit} />}
    </StepPage>
  )
}

function Fetching({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { data, error } = useQuery(verificationQuery(detail.engine.id, visit.id))
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`what is left to do`} />
  return <Proving detail={detail} visit={visit} verification={data} />
}

function Proving({
  detail,
  visit,
  verification,
}: {
  detail: EngineDetail
  visit: Visit
  verification: Verification
}) {
  const { engine } = detail
  const at = { engineId: engine.id, visitId: visit.id }
  const unticked = verification.ticks.filter((one) => !one.done).length
  const partsOut = visit.parts.filter((part) => !part.back)
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Close up and verify`}</h1>
        <div className="flex flex-wrap gap-2">
          <WorkDone engineId={engine.id} visit={visit} />
          <Link to={cardAddress(engine.id, visit.id)} className={buttonClass('main')}>
            {t`Job card`}
          </Link>
        </div>
      </div>
      {visit.progress?.state === 'done' && unticked > 0 && (
        <p role="status" className="mb-3 border-l-6 border-loose bg-sheet px-4 py-2">
          {plural(unticked, {
            one: 'The work is marked as done; # item is not ticked off.',
            other: 'The work is marked as done; # items are not ticked off.',
          })}
        </p>
      )}
      {verification.unmeasured.length > 0 && (
        <p className="mb-3 border-l-6 border-loose bg-sheet px-4 py-2">
          {t`Adjusted, not re-measured: measure before the cover goes on:`}{' '}
          {verification.unmeasured.map((valve) => (
            <Link
              key={valve}
              className="mr-2 font-semibold"
              to={`${measureAddress(engine.id, visit.id, valve)}?phase=left`}
            >
              {valve}
            </Link>
          ))}
        </p>
      )}
      {verification.unread.length > 0 && (
        <p className="mb-3 border-l-6 border-loose bg-sheet px-4 py-2">
          {t`Not measured at this visit:`}{' '}
          {verification.unread.map((valve) => (
            <Link
              key={valve}
              className="mr-2 font-semibold"
              to={measureAddress(engine.id, visit.id, valve)}
            >
              {valve}
            </Link>
          ))}
        </p>
      )}
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)]">
        <div className="flex min-w-0 flex-col gap-4">
          <ClosingUp {...at} verification={verification} stage="close" title={t`Close up`}>
            {partsOut.length > 0 && (
              <p className="border-b border-rule px-4 py-2 text-loose">
                <Trans>Not refitted yet: {partsOut.map((part) => part.what).join(', ')}.</Trans>
              </p>
            )}
          </ClosingUp>
          <PartsUsed engine={engine} visit={visit} />
          <NextCheckChoice {...at} verification={verification} usageUnit={engine.usage_unit} />
        </div>
        <div className="flex min-w-0 flex-col gap-4">
          <Cautions detail={detail} step="verify" />
          <Sheet title={t`Is the complaint gone?`}>
            <ComplaintOutcomes {...at} complaints={verification.complaints} />
            <CasesOf detail={detail} visit={visit} verification={verification} />
          </Sheet>
          <ClosingUp
            {...at}
            verification={verification}
            stage="prove"
            title={t`Start the engine`}
          />
          <SoundAfter {...at} />
          <BeforeAndAfter {...at} verification={verification} />
        </div>
      </div>
    </>
  )
}

/** The open cases of the visit: closed with what was found once all is gone, else they go on. */
function CasesOf({
  detail,
  visit,
  verification,
}: {
  detail: EngineDetail
  visit: Visit
  verification: Verification
}) {
  const open = detail.cases.filter((one) => one.visit === visit.id && one.closed === null)
  const answered = verification.complaints.filter((one) => one.verified !== null)
  if (open.length === 0 || answered.length === 0) return null
  const gone = verification.complaints.every((one) => one.verified?.outcome === 'gone')
  return (
    <ul className="border-t border-rule px-4 py-2">
      {open.map((one) => (
        <li key={one.id}>
          {gone ? t`All complaints are gone: ` : t`Not all complaints are gone: `}
          <Link to={caseAddress(detail.engine.id, one.id)}>
            {gone ? t`close case ${one.id}` : t`review the causes in case ${one.id}`}
          </Link>
        </li>
      ))}
    </ul>
  )
}
