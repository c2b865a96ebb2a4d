import { t } from '@lingui/core/macro'
import type { Finding } from '@/api/client'
import type { PlanValve, Side } from '@/head-plan/planGeometry'

/** Where a finding was made: the engine as a whole where it names nothing. */
export type Place = { cylinder?: number; side?: Side }

export const ENGINE: Place = {}

export function samePlace(one: Place, other: Place): boolean {
  return (
    (one.cylinder ?? null) === (other.cylinder ?? null) &&
    (one.side ?? null) === (other.side ?? null)
  )
}

/** The key of what was noted of a kind at a place. */
export function notedKey(id: string, place: Pick<Finding, 'cylinder' | 'side'> | Place): string {
  return `${id} ${place.cylinder ?? ''} ${place.side ?? ''}`
}

/** A place in words; a side of a cylinder with one valve there is that valve. */
export function placeName(place: Place, valves: PlanValve[]): string {
  const here = valves.filter(
    (valve) => valve.cylinder === place.cylinder && valve.side === place.side,
  )
  const [only, ...others] = here
  if (only && others.length === 0) return only.id
  const cylinder = place.cylinder === undefined ? undefined : t`cylinder ${place.cylinder}`
  return [cylinder, place.side].filter(Boolean).join(', ') || t`whole engine`
}

/** The places that a valve leads to, the whole engine first. */
export function placesOf(valve: PlanValve | undefined): Place[] {
  if (!valve) return [ENGINE]
  return [
    ENGINE,
    { cylinder: valve.cylinder, side: valve.side },
    { cylinder: valve.cylinder },
    { side: valve.side },
  ]
}
