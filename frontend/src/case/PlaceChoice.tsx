import { t } from '@lingui/core/macro'
import type { PlanValve } from '@/head-plan/planGeometry'
import { placeName, placesOf, samePlace, type Place } from './place'

/** Where what is noted next was seen; the plan offers the places about the valve that was picked. */
export function PlaceChoice({
  valves,
  picked,
  at,
  onChange,
}: {
  valves: PlanValve[]
  picked: PlanValve | undefined
  at: Place
  onChange: (at: Place) => void
}) {
  return (
    <fieldset className="text-sm">
      <legend className="font-semibold">{t`Seen or heard at`}</legend>
      <div className="flex flex-wrap">
        {placesOf(picked).map((place) => {
          const name = placeName(place, valves)
          return (
            <label
              key={name}
              className={`flex min-h-10 cursor-pointer items-center border border-rule px-2 has-focus-visible:outline-3 has-focus-visible:outline-accent ${
                samePlace(place, at) ? 'bg-ink font-semibold text-paper' : 'bg-sheet'
              }`}
            >
              <input
                type="radio"
                className="sr-only"
                name="place"
                checked={samePlace(place, at)}
                onChange={() => onChange(place)}
              />
              {name}
            </label>
          )
        })}
      </div>
      {!picked && (
        <p className="text-ink-soft">{t`Choose a valve on the plan for a more exact place.`}</p>
      )}
    </fieldset>
  )
}
