import { describe, expect, it } from 'vitest'
import {
  bladesFault,
  lengthFault,
  typedBladesMm,
  typedLengthMm,
  typedShimMm,
  understoodLength,
} from './typedLength'

describe('a typed length', () => {
  it.each([
    ['0.15', 'mm', 0.15],
    ['0,15', 'mm', 0.15],
    [' .2 mm ', 'thou', 0.2],
    ['10 thou', 'mm', 0.254],
    ['.010"', 'mm', 0.254],
    ['0.010 inch', 'thou', 0.254],
    ['6', 'thou', 0.1524],
  ] as const)('%s, form in %s', (text, unit, mm) => {
    expect(typedLengthMm(text, unit)).toBeCloseTo(mm, 6)
  })

  it('is taken in the only unit that makes sense, and says so', () => {
    // .010 in a form in thou can only be inches.
    const understood = { kind: 'length', mm: 0.254, note: '0.010 inch = 0.254 mm' }
    expect(understoodLength('.010', 'thou')).toEqual(understood)
    expect(lengthFault('.010', 'thou')).toBeNull()
  })

  it('is asked about where it could be two', () => {
    expect(lengthFault('12', 'mm')).toBe('12: 12 thou = 0.305 mm, or 12 mm? Add the unit')
    expect(typedLengthMm('12', 'mm')).toBeUndefined()
  })

  it('is refused where it is none', () => {
    expect(lengthFault('O.15', 'mm')).toContain('‘O.15’ is not a length such as 0.15')
    expect(lengthFault('0.15 furlong', 'mm')).not.toBeNull()
    expect(understoodLength('  ', 'mm')).toEqual({ kind: 'blank' })
  })
})

describe('typed blades', () => {
  it('may be stacked', () => {
    expect(typedBladesMm('0.20 + 0.08', 'mm')).toEqual([0.2, 0.08])
  })

  it.each(['0', '', '0.20+', '0.20+x'])('%s is refused with an example', (text) => {
    expect(typedBladesMm(text, 'mm')).toBeUndefined()
    expect(bladesFault(text, 'mm')).not.toBeNull()
  })
})

describe('a typed shim', () => {
  it.each([
    ['215', 2.15],
    ['2.15', 2.15],
    ['2,15 mm', 2.15],
  ])('%s', (text, mm) => {
    expect(typedShimMm(text)).toBe(mm)
  })

  it('has no other unit', () => {
    expect(typedShimMm('85 thou')).toBeUndefined()
  })
})
