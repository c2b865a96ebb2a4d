import { t } from '@lingui/core/macro'
import type { PracticeRun } from '@/api/client'

/** What is to be seen of one valve as the crank turns: how far its lobe lifts it, 0 to 1. */
export type MovingValve = { id: string; side: string; lift: number }
/** What is to be seen of one cylinder: where its piston stands (0 bottom, 1 top), and its valves. */
export type MovingCylinder = { cylinder: number; piston: number; valves: MovingValve[] }

const wrapped = (degrees: number) => ((degrees % 720) + 720) % 720

/** The engine at a crank angle, as one sees it with the cover off and a soft rod in the plug hole. */
export function motionAt(
  run: Pick<PracticeRun, 'firing' | 'events' | 'engine'>,
  crankDeg: number,
): MovingCylinder[] {
  return run.firing
    .map(({ cylinder, fires_deg }) => {
      const own = wrapped(crankDeg - fires_deg)
      return {
        cylinder,
        piston: 0.5 + 0.5 * Math.cos((own * Math.PI) / 180),
        valves: run.engine.valves
          .filter((valve) => valve.cylinder === cylinder)
          .map((valve) => ({
            id: valve.id,
            side: valve.side,
            lift: liftAt(run.events, valve.side, own),
          })),
      }
    })
    .sort((a, b) => a.cylinder - b.cylinder)
}

function liftAt(events: PracticeRun['events'], side: string, own: number): number {
  const when = events.find((one) => one.side === side)
  if (!when) return 0
  const open = wrapped(when.closes_deg - when.opens_deg)
  const into = wrapped(own - when.opens_deg)
  return into < open ? Math.sin((Math.PI * into) / open) ** 2 : 0
}

/** The same in words, for who does not see it. */
export function motionText(cylinders: MovingCylinder[]): string {
  return cylinders
    .map(({ cylinder, piston, valves }) => {
      const place = piston > 0.995 ? t`at top` : piston < 0.005 ? t`at bottom` : 'between'
      const pressed = valves.filter((one) => one.lift > 0.002).map((one) => one.id)
      const moving = pressed.length > 0 ? t`${pressed.join(t` and `)} open` : t`no valve open`
      return t`cylinder ${cylinder} ${place}, ${moving}`
    })
    .join('; ')
}
