import { t } from '@lingui/core/macro'
/**
 * Where everything stands on the plan of the head, seen from above as a technician sketches it.
 * Pure geometry: the same engine gives the same drawing in every view.
 */

export type Side = 'intake' | 'exhaust'
export type PlanValve = { id: string; cylinder: number; side: Side; place?: number | null }
export type PlanLayout = {
  kind?: 'in-line' | 'v' | 'flat'
  banks?: number[][] | null
  front?: 'left' | 'right' | null
  intake_side?: string | null
}

export type Placed = { x: number; y: number }
export type PlacedValve = PlanValve & Placed
export type PlacedCylinder = Placed & { cylinder: number }
export type RowLabel = Placed & { text: string }

export type PlanGeometry = {
  width: number
  height: number
  cell: { width: number; height: number; window: number; windowWidth: number; figure: number }
  boreRadius: number
  valves: PlacedValve[]
  cylinders: PlacedCylinder[]
  rows: RowLabel[]
  /** One centre line a bank, from left to right. */
  centreLines: { y: number; from: number; to: number }[]
  front: Placed & { pointing: 'left' | 'right' }
}

type Row = 'intake' | 'exhaust' | 'both'

const LABEL_WIDTH = 78
const MARGIN = 12
const FRONT_WIDTH = 56

function byPlace(a: PlanValve, b: PlanValve): number {
  return (a.place ?? 0) - (b.place ?? 0)
}

/** The banks as the layout says, else two halves for a V or flat engine, else one row. */
function banksOf(valves: PlanValve[], layout: PlanLayout): number[][] {
  if (layout.banks && layout.banks.length > 0) return layout.banks
  const cylinders = [...new Set(valves.map((valve) => valve.cylinder))].sort((a, b) => a - b)
  if (layout.kind === 'v' || layout.kind === 'flat') {
    return [
      cylinders.filter((_, index) => index % 2 === 0),
      cylinders.filter((_, index) => index % 2 === 1),
    ]
  }
  return [cylinders]
}

/**
 * The rows of valves of one bank, from the top of the drawing down; the bores stand after the first.
 * Left and right are told as one stands behind the engine and checks to its front.
 */
function rowsOf(layout: PlanLayout, bank: number, banks: number, perCylinder: number): Row[] {
  const side = layout.intake_side
  if (banks > 1) {
    const intakeInside = side !== 'outside'
    const upper = bank === 0
    return upper === intakeInside ? ['exhaust', 'intake'] : ['intake', 'exhaust']
  }
  if (side === 'left' || side === 'right') {
    const leftIsBelow = layout.front !== 'right'
    return (side === 'left') === leftIsBelow ? ['exhaust', 'intake'] : ['intake', 'exhaust']
  }
  // Without a side stated, two valves a cylinder most likely stand in one line along the head.
  return perCylinder <= 2 ? ['both'] : ['intake', 'exhaust']
}

function inRow(valves: PlanValve[], cylinder: number, row: Row): PlanValve[] {
  return valves
    .filter((valve) => valve.cylinder === cylinder && (row === 'both' || valve.side === row))
    .sort(byPlace)
}

const ROW_TEXT: Record<Row, string> = { intake: t`intake`, exhaust: t`exhaust`, both: t`valves` }

export function planGeometry(valves: PlanValve[], layout: PlanLayout = {}): PlanGeometry {
  const banks = banksOf(valves, layout)
  const cylinders = banks.flat()
  const perCylinder = Math.max(
    ...cylinders.map((cylinder) => inRow(valves, cylinder, 'both').length),
  )
  const rows = banks.map((_, bank) => rowsOf(layout, bank, banks.length, perCylinder))
  const most = Math.max(
    ...banks.flatMap((bank, index) =>
      bank.flatMap((cylinder) =>
        (rows[index] ?? []).map((row) => inRow(valves, cylinder, row).length),
      ),
    ),
  )
  const twoBanks = banks.length > 1
  const cellWidth = most > 2 ? 44 : 66
  const windowHeight = twoBanks ? 66 : 112
  // Figures as large as the drawing allows: the plan is read at arm's length.
  const figure = twoBanks || most > 2 ? 16 : 19
  const cellHeight = windowHeight + 46 + figure
  const boreRadius = twoBanks ? 24 : 34
  const longest = Math.max(...banks.map((bank) => bank.length))
  const pitch = Math.max(most * cellWidth + 18, longest <= 2 ? 190 : longest <= 4 ? 140 : 92)
  // The two banks of a V stand a little apart along the crank, for their rods share it.
  const stagger = twoBanks ? pitch * 0.18 : 0
  // Cylinders are numbered from the front, so a front at the right turns the row about.
  const fromRight = layout.front === 'right'
  const width =
    LABEL_WIDTH + longest * pitch + stagger + MARGIN + (fromRight ? FRONT_WIDTH - MARGIN : 0)

  const geometry: PlanGeometry = {
    width,
    height: 0,
    cell: {
      width: cellWidth,
      height: cellHeight,
      window: windowHeight,
      windowWidth: twoBanks || most > 2 ? 30 : 38,
      figure,
    },
    boreRadius,
    valves: [],
    cylinders: [],
    rows: [],
    centreLines: [],
    front: { x: 0, y: 0, pointing: fromRight ? 'right' : 'left' },
  }

  let top = 8
  banks.forEach((bank, bankIndex) => {
    const bankRows = rows[bankIndex] ?? []
    const shift = bankIndex === 1 ? stagger : 0
    const rowCentres = bankRows.map((_, index) =>
      index === 0 ? top + cellHeight / 2 : top + cellHeight + 2 * boreRadius + 12 + cellHeight / 2,
    )
    const boreY = top + cellHeight + boreRadius + 6
    bank.forEach((cylinder, index) => {
      const at = fromRight ? longest - 1 - index : index
      const x = LABEL_WIDTH + shift + (at + 0.5) * pitch
      geometry.cylinders.push({ cylinder, x, y: boreY })
      bankRows.forEach((row, rowIndex) => {
        const here = inRow(valves, cylinder, row)
        const ordered = fromRight ? [...here].reverse() : here
        ordered.forEach((valve, place) => {
          geometry.valves.push({
            ...valve,
            x: x + (place - (ordered.length - 1) / 2) * cellWidth,
            y: rowCentres[rowIndex] ?? boreY,
          })
        })
      })
    })
    bankRows.forEach((row, index) => {
      geometry.rows.push({ x: 8, y: rowCentres[index] ?? boreY, text: ROW_TEXT[row] })
    })
    geometry.centreLines.push({
      y: boreY,
      from: LABEL_WIDTH - 8,
      to: width - (fromRight ? FRONT_WIDTH : MARGIN),
    })
    const rowsBelow = bankRows.length - 1
    top += cellHeight + 2 * boreRadius + 12 + rowsBelow * cellHeight + (twoBanks ? 14 : 0)
  })
  geometry.height = top + 8
  const firstLine = geometry.centreLines[0]
  geometry.front = {
    x: fromRight ? width - MARGIN : 8,
    y: firstLine?.y ?? 0,
    pointing: fromRight ? 'right' : 'left',
  }
  return geometry
}

export type Direction = 'left' | 'right' | 'up' | 'down'

/** The valve that an arrow key leads to: the nearest one that way, straight ahead before aslant. */
export function neighbour(
  valves: PlacedValve[],
  from: string,
  direction: Direction,
): string | undefined {
  const here = valves.find((valve) => valve.id === from)
  if (!here) return valves[0]?.id
  const sign = direction === 'left' || direction === 'up' ? -1 : 1
  const along = direction === 'left' || direction === 'right' ? 'x' : 'y'
  const across = along === 'x' ? 'y' : 'x'
  let best: { id: string; cost: number } | undefined
  for (const valve of valves) {
    const ahead = (valve[along] - here[along]) * sign
    if (ahead < 1) continue
    const cost = ahead + 3 * Math.abs(valve[across] - here[across])
    if (!best || cost < best.cost) best = { id: valve.id, cost }
  }
  return best?.id
}
