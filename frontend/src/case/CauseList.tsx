import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { Cause, Diagnosis } from '@/api/client'
import { chance, percent } from '@/design/format'
import type { ListedCause } from './evidence'

export function causeKey(cause: Cause): string {
  return `${cause.cause} ${cause.where}`
}

const PLACES = { valve: t`valves`, cylinder: t`cylinders`, side: t`sides`, engine: t`engines` }

/** The causes as a ruled list, a bar behind each; choosing one leaves its threads alone. */
export function CauseList({
  diagnosis,
  causes,
  before,
  chosen,
  onChoose,
}: {
  diagnosis: Diagnosis
  causes: ListedCause[]
  /** How likely each was without what is only tried out; undefined where nothing is. */
  before: Map<string, Cause> | undefined
  chosen: string | undefined
  onChoose: (key: string) => void
}) {
  return (
    <>
      <ul>
        {causes.map(({ cause, probability, places }) => {
          const key = causeKey(cause)
          const was = places > 1 ? before?.get(key)?.anywhere : before?.get(key)?.probability
          return (
            <li key={key} data-cause={key} className="border-b border-rule">
              <button
                type="button"
                aria-pressed={key === chosen}
                onClick={() => onChoose(key)}
                className={`relative block w-full border-l-6 px-3 py-2 text-left ${
                  key === chosen ? 'border-accent' : 'border-transparent'
                }`}
              >
                <span
                  aria-hidden="true"
                  className="absolute inset-y-1 left-0 bg-accent-pale"
                  style={{ width: `${probability * 100}%` }}
                />
                <span className="relative flex flex-wrap justify-between gap-x-3">
                  <span className="font-semibold">
                    {cause.label}
                    <span className="font-normal text-ink-soft">
                      , {places > 1 ? t`one of ${places} ${PLACES[cause.place]}` : cause.where}
                    </span>
                  </span>
                  <span>
                    {chance(probability)}
                    {was !== undefined && Math.abs(was - probability) >= 0.005 && (
                      <span className="text-ink-soft">
                        {' '}
                        <Trans>(without: {percent(was)})</Trans>
                      </span>
                    )}
                  </span>
                </span>
              </button>
            </li>
          )
        })}
      </ul>
      <p className="flex justify-between px-4 pt-2 text-ink-soft">
        <span>{t`other cause`}</span>
        <span>{chance(diagnosis.none_of_these)}</span>
      </p>
      <p className="flex justify-between px-4 pb-2 text-ink-soft">
        <span>{t`any valve-train fault`}</span>
        <span>{chance(diagnosis.in_valve_train)}</span>
      </p>
    </>
  )
}
