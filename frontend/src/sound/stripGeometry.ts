import { area, curveLinear } from 'd3-shape'
import type { SoundCycle, SoundPicture } from '@/api/client'

export const CYCLE_DEG = 720
export const STRIP = { width: 1000, left: 130, right: 990 }
const LANE = { cylinder: 22, band: 26, pooled: 64, gap: 6 }
/** A band's height is drawn at least as if something stood out by so much, dB. */
const LEAST_DB = 6

/** Where an angle, after cylinder 1 at top on compression, stands on the strip. */
export function xAt(deg: number): number {
  const within = ((deg % CYCLE_DEG) + CYCLE_DEG) % CYCLE_DEG
  return STRIP.left + (within / CYCLE_DEG) * (STRIP.right - STRIP.left)
}

/** The angle of a place in the cycle, 0 to 1; without an ignition clip from wherever it begins. */
export function degOf(place: number, cycle: SoundCycle): number {
  const deg = place * CYCLE_DEG + (cycle.zero_deg ?? 0)
  return ((deg % CYCLE_DEG) + CYCLE_DEG) % CYCLE_DEG
}

/** From one angle on to another as one or two pieces of the strip. */
export function spans(fromDeg: number, toDeg: number): [number, number][] {
  const from = xAt(fromDeg)
  const to = xAt(toDeg)
  return from <= to
    ? [[from, to]]
    : [
        [from, STRIP.right],
        [STRIP.left, to],
      ]
}

export type Lane = { top: number; bottom: number }

/** The lanes of a strip, top to bottom: the cylinders in firing order, then each band, the pooled one last. */
export function lanesOf(cylinders: number, bands: SoundCycle['bands']) {
  let top = 22
  const next = (height: number): Lane => {
    const lane = { top, bottom: top + height }
    top += height + LANE.gap
    return lane
  }
  const ofCylinders = Array.from({ length: cylinders }, () => next(LANE.cylinder))
  const ofBands = bands.map((band) => next(band.pooled ? LANE.pooled : LANE.band))
  return { ofCylinders, ofBands, height: top + 38 }
}

/** The greatest height of any band of some cycles, dB: they are drawn on one scale. */
export function highest(cycles: SoundCycle[]): number {
  const all = cycles.flatMap((cycle) => cycle.bands.flatMap((band) => band.height_db))
  return Math.max(LEAST_DB, ...all)
}

/** A band's height along the cycle as an area that stands on the bottom of its lane. */
export function bandPath(heights: number[], cycle: SoundCycle, lane: Lane, most: number): string {
  const places = heights.map((height, index) => ({
    x: xAt(degOf((index + 0.5) / heights.length, cycle)),
    height,
  }))
  places.sort((one, other) => one.x - other.x)
  const draw = area<(typeof places)[number]>()
    .x((place) => place.x)
    .y0(lane.bottom)
    .y1((place) => lane.bottom - (place.height / most) * (lane.bottom - lane.top))
    .curve(curveLinear)
  return draw(places) ?? ''
}

/** The valves of a cylinder that open and close alike, drawn as one bracket. */
export function bracketsOf(picture: SoundPicture, cylinder: number) {
  const found = new Map<string, { side: string; opens: number; closes: number; valves: string[] }>()
  for (const event of picture.events) {
    if (event.cylinder !== cylinder) continue
    const known = found.get(event.side) ?? { side: event.side, opens: 0, closes: 0, valves: [] }
    if (event.event === 'opens') known.opens = event.at_deg
    else known.closes = event.at_deg
    if (!known.valves.includes(event.valve)) known.valves.push(event.valve)
    found.set(event.side, known)
  }
  return [...found.values()]
}
