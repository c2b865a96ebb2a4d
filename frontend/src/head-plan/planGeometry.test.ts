import { describe, expect, it } from 'vitest'
import { planGeometry, type PlanLayout, type PlanValve } from './planGeometry'

function head(cylinders: number, perSide = 1): PlanValve[] {
  const sides = ['intake', 'exhaust'] as const
  return Array.from({ length: cylinders }, (_, index) => index + 1).flatMap((cylinder) =>
    sides.flatMap((side) =>
      Array.from({ length: perSide }, (_, n) => ({
        id: `${cylinder}${side === 'intake' ? 'I' : 'E'}${n}`,
        cylinder,
        side,
        place: 2 * perSide * (cylinder - 1) + n,
      })),
    ),
  )
}

const LAYOUTS: [string, PlanValve[], PlanLayout][] = [
  ['a single', head(1), {}],
  ['an in-line four', head(4), { kind: 'in-line' }],
  ['an in-line three with four valves each', head(3, 2), { kind: 'in-line' }],
  [
    'a V8',
    head(8),
    {
      kind: 'v',
      banks: [
        [1, 3, 5, 7],
        [2, 4, 6, 8],
      ],
    },
  ],
  ['a flat twin', head(2), { kind: 'flat' }],
]

describe.each(LAYOUTS)('the plan of %s', (_, valves, layout) => {
  const plan = planGeometry(valves, layout)

  it('draws each valve and each cylinder once, within the picture', () => {
    expect(plan.valves.map((valve) => valve.id).sort()).toEqual(
      valves.map((valve) => valve.id).sort(),
    )
    expect(plan.cylinders.map((one) => one.cylinder).sort((a, b) => a - b)).toEqual([
      ...new Set(valves.map((valve) => valve.cylinder)),
    ])
    for (const { x, y } of [...plan.valves, ...plan.cylinders]) {
      expect(x).toBeGreaterThanOrEqual(0)
      expect(x).toBeLessThanOrEqual(plan.width)
      expect(y).toBeGreaterThanOrEqual(0)
      expect(y).toBeLessThanOrEqual(plan.height)
    }
  })

  it('draws no valve over another', () => {
    const places = plan.valves.map(({ x, y }) => `${x.toFixed(1)} ${y.toFixed(1)}`)
    expect(new Set(places).size).toBe(places.length)
  })

  it('has a centre line for each bank', () => {
    expect(plan.centreLines).toHaveLength(layout.kind === 'v' || layout.kind === 'flat' ? 2 : 1)
  })
})

it('points to the front where the layout says', () => {
  expect(planGeometry(head(4), { front: 'right' }).front.pointing).toBe('right')
  expect(planGeometry(head(4), {}).front.pointing).toBe('left')
})
