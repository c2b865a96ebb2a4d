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
}
export type Fan = { width: number; height: number; pivot: { x: number; y: number }; leaves: Leaf[] }

const WIDTH = 560
const REACH = 268
const DRAWN_OUT = 16
/** Above the tips, for the dot of an advised leaf. */
const DOT_ROOM = 20
const WIDEST_SPREAD = 72

function leafPath(length: number, tipWidth: number): string {
  const half = tipWidth / 2
  return [
    `M-6 0`,
    `L${-half} ${-length + half}`,
    `A${half} ${half} 0 0 1 ${half} ${-length + half}`,
    `L6 0 Z`,
  ].join(' ')
}

export function fanGeometry(bladesMm: number[], chosen: number): Fan {
  const count = bladesMm.length
  const spread = Math.min(WIDEST_SPREAD, (count - 1) * 7)
  const step = count > 1 ? (2 * spread) / (count - 1) : 0
  // Leaves may not overlap at the tip: as wide as the arc between them, up to a real blade's width.
  const arc = (REACH * (step || 20) * Math.PI) / 180
  const tipWidth = Math.min(46, arc * 0.92)
  const leaves = bladesMm.map((thicknessMm, index) => {
    const length = REACH + (index === chosen ? DRAWN_OUT : 0)
    return {
      index,
      thicknessMm,
      turn: -spread + index * step,
      path: leafPath(length, tipWidth),
      figureAt: length - 26,
      markAt: length - 62,
    }
  })
  return {
    width: WIDTH,
    height: REACH + DRAWN_OUT + DOT_ROOM + 16,
    pivot: { x: WIDTH / 2, y: REACH + DRAWN_OUT + DOT_ROOM + 4 },
    leaves,
  }
}
