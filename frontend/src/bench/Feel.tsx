import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { ForecastReview } from '@/api/client'
import { length, movement, percent, sdText, type LengthUnit } from '@/design/format'
import { Sheet } from '@/design/Sheet'

/** Whether somebody feels a blade otherwise than the others; said kindly, with what to do. */
export function Feel({ feel, unit }: { feel: ForecastReview['feel']; unit: LengthUnit }) {
  if (feel.length === 0) return null
  const apart = feel.filter((one) => one.apart)
  return (
    <Sheet
      title={t`How blades feel to each of us`}
      aside={<span className="text-sm text-ink-soft">{t`from visits after somebody else’s`}</span>}
    >
      <div className="flex flex-col gap-2 px-4 py-2">
        {apart.length === 0 && (
          <p>{t`No technician’s readings differ clearly from the others’.`}</p>
        )}
        {apart.map((one) => (
          <p key={one.technician} className="border-l-4 border-doubt pl-3">
            <Trans>
              <strong>
                {one.technician} measures {length(Math.abs(one.mean_mm), unit)} ±{' '}
                {sdText(one.sd_mm, unit)} {one.mean_mm < 0 ? t`tighter` : t`looser`} than the others
              </strong>{' '}
              ({percent(one.p_apart)} sure of a real difference, {one.visits} visits). That says
              nothing about who is right. Take the same blade to the same valve, both of you, and
              agree on what a light drag is.
            </Trans>
          </p>
        ))}
        <table className="w-full border-collapse text-sm">
          <thead>
            <tr className="border-b border-ink text-left text-ink-soft">
              <th className="py-0.5 font-normal">{t`technician`}</th>
              <th className="py-0.5 font-normal">{t`visits`}</th>
              <th className="py-0.5 font-normal">{t`against the others`}</th>
            </tr>
          </thead>
          <tbody>
            {feel.map((one) => (
              <tr key={one.technician}>
                <th scope="row" className="py-0.5 text-left font-semibold">
                  {one.technician}
                </th>
                <td>{one.visits}</td>
                <td>
                  {movement(one.mean_mm, unit)} ± {sdText(one.sd_mm, unit)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Sheet>
  )
}
