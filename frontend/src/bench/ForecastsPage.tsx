import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { forecastReviewQuery } from '@/api/queries'
import type { ForecastReview, ForecastTally } from '@/api/client'
import { percent, sdText, type LengthUnit } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { Feel } from './Feel'
import { Tenths } from './Tenths'

/** Fewer say nothing of how well forecasts hold. */
const FEW = 20

/** Every past forecast of this workshop against what was then found. */
export function ForecastsPage() {
  useTitle(t`How our forecasts did`)
  const asked = useQuery(forecastReviewQuery)
  const { unit } = usePreferences()
  if (!asked.data) {
    return asked.error ? <ErrorNotice error={asked.error} /> : <Loading what={t`past forecasts`} />
  }
  const { review, calculating, failed } = asked.data
  return (
    <div className="mx-auto max-w-[1100px]">
      <h1 className="mb-1">{t`How our forecasts did`}</h1>
      <p className="mb-3 max-w-[75ch] text-ink-soft">
        {t`Each clearance that was found is compared with the forecast from the visits before it, as it is calculated today from the engine’s own record, without sister engines.`}
      </p>
      {calculating && (
        <p role="status" className="mb-3">
          <Trans>
            Looking back: {calculating.done} of {calculating.total} engines.
          </Trans>
        </p>
      )}
      {failed.length > 0 && (
        <p className="mb-3 text-tight">
          <Trans>Could not be calculated: {failed.join(', ')}.</Trans>
        </p>
      )}
      {review.whole ? (
        <Known review={review} whole={review.whole} unit={unit} />
      ) : (
        !calculating && (
          <Empty>
            <Trans>
              No engine has been measured at two visits yet.{' '}
              <Link to="/">Back to the workshop</Link>
            </Trans>
          </Empty>
        )
      )}
    </div>
  )
}

function Known({
  review,
  whole,
  unit,
}: {
  review: ForecastReview
  whole: ForecastTally
  unit: LengthUnit
}) {
  return (
    <div className="flex flex-col gap-4">
      <Sheet
        title={t`All engines`}
        aside={
          <span className="text-sm text-ink-soft">
            <Trans>
              {whole.count} clearances at {review.visits} visits of{' '}
              <Plural value={review.engines} one="# engine" other="# engines" />
            </Trans>
          </span>
        }
      >
        <div className="grid gap-x-8 gap-y-3 px-4 py-3 lg:grid-cols-2">
          <div className="flex flex-col gap-2">
            <Held whole={whole} unit={unit} />
            {review.bounded > 0 && (
              <p className="text-sm text-ink-soft">
                <Trans>
                  <Plural
                    value={review.bounded}
                    one="Not counted: # reading that only says that the clearance was smaller or larger than one blade."
                    other="Not counted: # readings that only say that the clearance was smaller or larger than one blade."
                  />
                </Trans>
              </p>
            )}
          </div>
          <Tenths tally={whole} />
        </div>
      </Sheet>
      <Feel feel={review.feel} unit={unit} />
      <Groups title={t`By kind of engine`} what={t`kind`} tallies={review.by_kind} unit={unit} />
      <Groups
        title={t`By technician`}
        what={t`measured by`}
        tallies={review.by_technician}
        unit={unit}
      />
    </div>
  )
}

function Held({ whole, unit }: { whole: ForecastTally; unit: LengthUnit }) {
  const { least: low, most: high } = whole.chance_of_most
  const few = whole.count < FEW
  const verdict = few
    ? t`Too few to judge.`
    : whole.in_most < low
      ? t`That is too few: the forecasts are too sure of themselves.`
      : whole.in_most > high
        ? t`That is more than it should be: the forecasts could be narrower.`
        : t`That is as it should be.`
  return (
    <>
      <p>
        <Trans>
          <strong>
            {whole.in_most} of {whole.count} ({percent(whole.in_most / whole.count)}) lay within the
            90 % interval
          </strong>
          , {whole.in_half} ({percent(whole.in_half / whole.count)}) within the 50 % interval.{' '}
          {verdict}
        </Trans>
        {!few && (
          <>
            {' '}
            <Trans>
              Right forecasts would put about {low} to {high} within the 90 % interval.
            </Trans>
          </>
        )}
      </p>
      <p>
        <Trans>
          Typically a forecast was off by <strong>{sdText(whole.error_mm, unit)}</strong>, and its
          90 % interval reached {sdText(whole.half_width_mm, unit)} either way.
        </Trans>
      </p>
    </>
  )
}

function Groups({
  title,
  what,
  tallies,
  unit,
}: {
  title: string
  what: string
  tallies: ForecastTally[]
  unit: LengthUnit
}) {
  if (tallies.length === 0) return null
  return (
    <Sheet title={title}>
      <div className="overflow-x-auto px-4 py-2">
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-b border-ink text-left text-sm text-ink-soft">
              {[
                what,
                'forecasts',
                t`in the 50 %`,
                t`in the 90 %`,
                t`typically off by`,
                t`90 % reaches`,
              ].map((head) => (
                <th key={head} className="py-1 pr-3 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {tallies.map((one) => (
              <tr key={one.name} className="border-b border-rule">
                <th scope="row" className="py-1 pr-3 text-left font-semibold">
                  {one.name}
                </th>
                <td className="pr-3">{one.count}</td>
                {one.count < FEW ? (
                  <td colSpan={4} className="text-ink-soft">
                    {t`too few to judge`}
                  </td>
                ) : (
                  <>
                    <td className="pr-3">{percent(one.in_half / one.count)}</td>
                    <td className="pr-3">{percent(one.in_most / one.count)}</td>
                    <td className="pr-3">{sdText(one.error_mm, unit)}</td>
                    <td>± {sdText(one.half_width_mm, unit)}</td>
                  </>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Sheet>
  )
}
