import type { Cause, Diagnosis } from '@/api/client'
import { chance } from '@/design/format'

const WORTH_SHOWING = 0.005
const FEWEST = 3

export function causeKey(cause: Cause): string {
  return `${cause.cause} ${cause.where}`
}

/** The causes as a ruled list, a bar behind each; choosing one opens its ledger. */
export function CauseList({
  diagnosis,
  chosen,
  onChoose,
}: {
  diagnosis: Diagnosis
  chosen: string | undefined
  onChoose: (key: string) => void
}) {
  const shown = diagnosis.causes.filter(
    (cause, index) => index < FEWEST || cause.probability >= WORTH_SHOWING,
  )
  return (
    <>
      <ul>
        {shown.map((cause) => {
          const key = causeKey(cause)
          return (
            <li key={key} className="border-b border-rule">
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
                  style={{ width: `${cause.probability * 100}%` }}
                />
                <span className="relative flex flex-wrap justify-between gap-x-3">
                  <span className="font-semibold">
                    {cause.label}
                    <span className="font-normal text-ink-soft">, {cause.where}</span>
                  </span>
                  <span>{chance(cause.probability)}</span>
                </span>
              </button>
            </li>
          )
        })}
      </ul>
      <p className="flex justify-between px-4 py-2 text-ink-soft">
        <span>none of these</span>
        <span>{chance(diagnosis.none_of_these)}</span>
      </p>
    </>
  )
}
