import { describe, expect, it } from 'vitest'
import {
  bladeChoice,
  feltAt,
  inHand,
  nearest,
  placeOf,
  thicknessMm,
  type BladeChoice,
} from './bladeChoice'

const SET = [0.05, 0.1, 0.15, 0.2, 0.25, 0.3]
const at = (index: number, more: Partial<BladeChoice> = {}): BladeChoice => ({
  bladesMm: SET,
  at: index,
  stacked: [],
  typed: null,
  ...more,
})

describe('the blade in the hand', () => {
  it('begins nearest the middle of the spec, or where the tries left off', () => {
    const action = { type: 'valve' as const, bladesMm: SET, startMm: 0.17, tried: [] }
    expect(bladeChoice(at(0), action).at).toBe(2)
    const tried = [{ blades_mm: [0.2], felt: 'free' as const }]
    expect(bladeChoice(at(0), { ...action, tried }).at).toBe(4)
  })

  it('steps within the set', () => {
    expect(bladeChoice(at(5), { type: 'step', by: 1 }).at).toBe(5)
    expect(bladeChoice(at(0), { type: 'step', by: -1 }).at).toBe(0)
    expect(bladeChoice(at(2), { type: 'step', by: 1 }).at).toBe(3)
  })

  it('is at most two leaves', () => {
    const stacked = bladeChoice(at(3), { type: 'stack' })
    expect(inHand(stacked)).toEqual([0.2, 0.05])
    expect(bladeChoice(stacked, { type: 'stack' })).toEqual(stacked)
    expect(inHand(bladeChoice(stacked, { type: 'unstack' }))).toEqual([0.2])
  })

  it('is the recommended one, stacked or not', () => {
    expect(inHand(bladeChoice(at(0), { type: 'advised', bladesMm: [0.25] }))).toEqual([0.25])
    const both = bladeChoice(at(0), { type: 'advised', bladesMm: [0.2, 0.05] })
    expect(inHand(both)).toEqual([0.2, 0.05])
    expect(thicknessMm(inHand(both))).toBeCloseTo(0.25)
  })

  it('without a recommendation goes on one leaf, but not to one that was tried', () => {
    const goesOn = (
      felt: 'no-go' | 'free',
      tried: { blades_mm: number[]; felt: 'no-go' | 'free' }[],
    ) => bladeChoice(at(3), { type: 'unadvised', felt, tried }).at
    expect(goesOn('free', [])).toBe(4)
    expect(goesOn('no-go', [])).toBe(2)
    expect(goesOn('free', [{ blades_mm: [0.25], felt: 'no-go' }])).toBe(3)
  })

  it('may be typed: drawn from the set where the set has it', () => {
    expect(bladeChoice(at(0), { type: 'typed', bladesMm: [0.2, 0.05] }).stacked).toEqual([0.2])
    const foreign = bladeChoice(at(0), { type: 'typed', bladesMm: [0.26] })
    expect(inHand(foreign)).toEqual([0.26])
    expect(inHand(bladeChoice(foreign, { type: 'step', by: 1 }))).toEqual([0.1])
  })
})

describe('places in the set', () => {
  it('are found by thickness, within the rounding of a print', () => {
    expect(placeOf(SET, 0.152)).toBe(2)
    expect(placeOf(SET, 0.16)).toBe(-1)
    expect(nearest(SET, 0.16)).toBe(2)
  })

  it('keep the last feel of single leaves alone', () => {
    const felt = feltAt(SET, [
      { blades_mm: [0.2], felt: 'free' },
      { blades_mm: [0.2], felt: 'drag' },
      { blades_mm: [0.2, 0.05], felt: 'no-go' },
    ])
    expect([...felt]).toEqual([[3, 'drag']])
  })
})
