import { describe, expect, it } from 'vitest'
import type { SoundCycle, SoundPicture } from '@/api/client'
import { bandPath, bracketsOf, degOf, highest, lanesOf, spans, STRIP, xAt } from './stripGeometry'

const band = (height_db: number[], pooled = false) => ({
  low_hz: 2800,
  high_hz: 5200,
  pooled,
  height_db,
})
const cycle = (zero_deg: number | null, ...bands: SoundCycle['bands']): SoundCycle => ({
  zero_deg,
  bands,
  ticks: [],
})

describe('the strip of one cycle', () => {
  it('goes once round in 720 degrees', () => {
    expect(xAt(0)).toBe(STRIP.left)
    expect(xAt(720)).toBe(STRIP.left)
    expect(xAt(-180)).toBe(xAt(540))
    expect(xAt(360)).toBe((STRIP.left + STRIP.right) / 2)
  })

  it('puts a place where the ignition mark says, and else where it was recorded', () => {
    expect(degOf(0.5, cycle(-20))).toBe(340)
    expect(degOf(0.01, cycle(-20))).toBeCloseTo(707.2)
    expect(degOf(0.25, cycle(null))).toBe(180)
  })

  it('draws what goes over its end in two pieces', () => {
    expect(spans(100, 300)).toEqual([[xAt(100), xAt(300)]])
    expect(spans(700, 20)).toEqual([
      [xAt(700), STRIP.right],
      [STRIP.left, xAt(20)],
    ])
  })

  it('stacks cylinders and bands without their touching', () => {
    const { ofCylinders, ofBands, height } = lanesOf(4, [band([1]), band([2], true)])
    const all = [...ofCylinders, ...ofBands]
    for (let index = 1; index < all.length; index++) {
      expect(all[index]!.top).toBeGreaterThan(all[index - 1]!.bottom)
    }
    expect(height).toBeGreaterThan(all.at(-1)!.bottom)
  })

  it('draws all cycles on one scale, and silence flat', () => {
    expect(highest([cycle(0, band([1, 2])), cycle(0, band([9]))])).toBe(9)
    expect(highest([cycle(0, band([0.2]))])).toBe(6)
  })

  it('lets a height reach the top of its lane at the most', () => {
    const lane = { top: 10, bottom: 30 }
    const path = bandPath([0, 6], cycle(0, band([0, 6])), lane, 6)
    const heights = [...path.matchAll(/,(\d+(?:\.\d+)?)/g)].map((found) => Number(found[1]))
    expect(Math.min(...heights)).toBe(10)
    expect(Math.max(...heights)).toBe(30)
  })

  it('draws the valves of a side as one bracket', () => {
    const events = ['1Ia', '1Ib'].flatMap((valve) => [
      { valve, cylinder: 1, side: 'intake', event: 'opens', at_deg: 345 },
      { valve, cylinder: 1, side: 'intake', event: 'closes', at_deg: 590 },
    ])
    const picture = { events } as unknown as SoundPicture
    expect(bracketsOf(picture, 1)).toEqual([
      { side: 'intake', opens: 345, closes: 590, valves: ['1Ia', '1Ib'] },
    ])
    expect(bracketsOf(picture, 2)).toEqual([])
  })
})
