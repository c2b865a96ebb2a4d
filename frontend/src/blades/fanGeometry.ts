/** The blades of a set spread like a fan of leaves about their pivot: pure geometry. */

export type Leaf = {
  index: number
  thicknessMm: number
  /** Turn of the leaf from upright, degrees. */
  turn: number
  path: string
  /** Where its figure and its mark stand, along the leaf from the pivot, px. */
  figureAt: number
  markAt: number
  /** Whether its figure reads along it, for it is too narrow to read across. */
  along: boolean
  /** Whether there is room for its figure; every second has, in the densest part of a set. */
  labelled: boolean
}
export type Fan = { width: number; height: number; pivot: { x: number; y: number }; leaves: Leaf[] }

const WIDTH = 560
const REACH = 268
const DRAWN_OUT = 16
/** Above the tips, for the dot of an advised leaf. */
const DOT_ROOM = 20
const WIDEST_SPREAD = 72
const WIDEST_STEP = 14
const WIDEST_TIP = 46
/** A figure of four signs does not fit across a narrower leaf. */
const NARROWEST_ACROSS = 34
const NARROWEST_ALONG = 12.5
/** How much further apart the leaves about the hand stand where a set has very many, and over how many. */
const LENS_GAIN = 2.2
const LENS_REACH = 2.6

function leafPath(length: number, tipWidth: number): string {
  const half = tipWidth / 2
  return [
    `M-6 0`,
    `L${-half} ${-length + half}`,
    `A${half} ${half} 0 0 1 ${half} ${-length + half}`,
    `L6 0 Z`,
  ].join(' ')
}

/** Each leaf's share of the spread: alike, or in a crowded set more for those about the hand. */
function shares(count: number, chosen: number): number[] {
  const crowded = arcOf((2 * WIDEST_SPREAD) / Math.max(count - 1, 1)) < NARROWEST_ACROSS
  return Array.from({ length: count }, (_, index) =>
    crowded && chosen >= 0 ? 1 + LENS_GAIN * Math.exp(-(((index - chosen) / LENS_REACH) ** 2)) : 1,
  )
}

/** Length along the tips of an angle, px. */
function arcOf(degrees: number): number {
  return (REACH * degrees * Math.PI) / 180
}

export function fanGeometry(bladesMm: number[], chosen: number): Fan {
  const count = bladesMm.length
  const share = shares(count, chosen)
  const all = share.reduce((sum, one) => sum + one, 0)
  const spread = 2 * Math.min(WIDEST_SPREAD, ((count - 1) * WIDEST_STEP) / 2)
  // The first and the last leaf stand at the ends of the spread: half of their shares lies outside.
  const inside = all - ((share[0] ?? 0) + (share.at(-1) ?? 0)) / 2
  const perShare = count > 1 ? spread / inside : 0
  let turn = -spread / 2
  const leaves = bladesMm.map((thicknessMm, index) => {
    const before = share[index - 1]
    const own = share[index] ?? 1
    if (before !== undefined) turn += (perShare * (before + own)) / 2
    const length = REACH + (index === chosen ? DRAWN_OUT : 0)
    // Leaves may not overlap at the tip: as wide as the arc between them, up to a real blade's width.
    const tipWidth = Math.min(WIDEST_TIP, arcOf(count > 1 ? perShare * own : WIDEST_STEP) * 0.92)
    const along = tipWidth < NARROWEST_ACROSS
    return {
      index,
      thicknessMm,
      turn,
      path: leafPath(length, tipWidth),
      figureAt: length - 26,
      markAt: length - (along ? 68 : 62),
      along,
      labelled: tipWidth >= NARROWEST_ALONG || index % 2 === 0,
    }
  })
  return {
    width: WIDTH,
    height: REACH + DRAWN_OUT + DOT_ROOM + 16,
    pivot: { x: WIDTH / 2, y: REACH + DRAWN_OUT + DOT_ROOM + 4 },
    leaves,
  }
}
