import { describe, expect, it } from 'vitest'
import type { Engine } from '@/api/client'
import { copyOf, draftOf, placedValves, type EngineDraft, type EngineValues } from './draft'
import { fieldOf } from './fieldNames'
import { engineSchema, idFor, otherUnitWouldDo } from './schema'

const engine = {
  id: 'loader',
  name: 'Loader',
  usage_unit: 'h',
  check_interval: 250,
  adjustment: 'screw-rocker',
  spec: { intake: { min_mm: 0.15, max_mm: 0.2 }, exhaust: { min_mm: 0.2, max_mm: 0.25 } },
  valves: [
    { id: '1I', cylinder: 1, side: 'intake', shares_rocker_with: [] },
    { id: '1E', cylinder: 1, side: 'exhaust', shares_rocker_with: [] },
  ],
  layout: { kind: 'in-line', front: 'left' },
  compression_spec_kpa: { min: 1034.21, max: null, max_spread_fraction: 0.25 },
  meter_changes: [],
  usage_readings: [],
  spec_changes: [],
} as unknown as Engine

function typed(part: Partial<EngineValues>): EngineDraft {
  const { base, values } = draftOf(engine, 'psi')
  return { base, values: { ...values, ...part } }
}

function read(part: Partial<EngineValues> = {}) {
  const draft = typed(part)
  return engineSchema(draft).safeParse(draft.values)
}

function faults(part: Partial<EngineValues>): Record<string, string> {
  return Object.fromEntries(
    (read(part).error?.issues ?? []).map((one) => [one.path.join('.'), one.message]),
  )
}

const range = (min: string, max: string) => ({ single: false, min, max, tolerance: '' })
const figures = (part: Partial<EngineValues['figures']>) => ({
  figures: { ...typed({}).values.figures, ...part },
})

describe('an engine as it is typed', () => {
  it('comes back as it was recorded, its pressure not rounded by the unit it is shown in', () => {
    const { data } = read()
    expect(data?.compression_spec_kpa?.min).toBe(1034.21)
    expect(data?.spec.intake).toMatchObject({ min_mm: 0.15, max_mm: 0.2 })
    expect(data?.valves.map((one) => one.id)).toEqual(['1I', '1E'])
  })

  it('reads lengths in the unit of the manual and keeps what was typed', () => {
    const { data } = read({ unit: 'thou', intake: range('6', '8'), exhaust: range('8', '10') })
    expect(data?.spec.intake).toEqual({
      min_mm: 0.1524,
      max_mm: 0.2032,
      figure_mm: null,
      entered: { min: '6', max: '8', unit: 'thou' },
    })
  })

  it('takes a single figure with its tolerance either way', () => {
    const spec = { single: true, min: '0.20', max: '', tolerance: '0.02' }
    expect(read({ intake: spec }).data?.spec.intake).toMatchObject({
      min_mm: 0.18,
      max_mm: 0.22,
      figure_mm: 0.2,
    })
    expect(faults({ intake: { ...spec, tolerance: '0.3' } })).toEqual({
      'intake.tolerance': 'must be over 0 and less than the figure itself, 0.20',
    })
  })

  it('says which engine it is, and copies neither its plate nor its number', () => {
    const texts = { ...typed({}).values.texts, make: 'Hollam', model: 'R4', plate: ' fleet 12 ' }
    const { data } = read({ ...figures({ year: '2014', displacement_cc: '1998' }), texts })
    expect(data).toMatchObject({
      make: 'Hollam',
      model: 'R4',
      variant: null,
      plate: 'fleet 12',
      year: 2014,
      displacement_cc: 1998,
    })
    const copied = copyOf({ ...engine, make: 'Hollam', plate: 'fleet 12' }, 'kPa').values.texts
    expect(copied).toMatchObject({ make: 'Hollam', plate: '', serial_number: '' })
  })

  it('takes a range from small to large, with both of its figures', () => {
    const { values } = typed({})
    const more = 'must be more than the figure before it'
    expect(
      faults({
        intake: range('0.10', '0.05'),
        exhaust: range('0.20', ''),
        compression: { ...values.compression, min: '180', max: '150' },
        shims: { from: '2.5', to: '2.0', step: '0.05', diameter: '' },
      }),
    ).toEqual({
      'intake.max': more,
      'exhaust.max': 'a range needs both figures; for one figure tick “a single figure”',
      'compression.max': more,
      'shims.to': more,
    })
    expect(faults({ intake: range('0.20', '0.20') })).toEqual({ 'intake.max': more })
    expect(faults({ compression: { ...values.compression, min: '180', max: '180' } })).toEqual({})
  })

  it('fires each cylinder of the head once', () => {
    const once = 'must name each cylinder once: 1, in the order in which they fire'
    expect(faults({ firingOrder: '1' })).toEqual({})
    expect(faults({ firingOrder: '1-2' })).toEqual({ firingOrder: once })
    expect(faults({ firingOrder: '1-1' })).toEqual({ firingOrder: once })
    // Others of a record, whose valves are not measured, stay.
    const draft = draftOf({ ...engine, firing_order: [1, 3, 4, 2] }, 'psi')
    expect(engineSchema(draft).safeParse(draft.values).data?.firing_order).toEqual([1, 3, 4, 2])
  })

  it('tells every fault at its field', () => {
    const nothing = faults({
      ...figures({ check_interval: '', rocker_ratio: 'x' }),
      texts: { ...typed({}).values.texts, name: ' ' },
      intake: range('', ''),
      firingOrder: '1-a',
      shims: { from: '2', to: '', step: '0.05', diameter: '' },
      torque: 'cover',
      stations: 'mark T | 1I',
    })
    expect(Object.keys(nothing).sort()).toEqual([
      'figures.check_interval',
      'figures.rocker_ratio',
      'firingOrder',
      'intake.min',
      'shims.to',
      'stations',
      'texts.name',
      'torque',
    ])
    expect(nothing['figures.rocker_ratio']).toBe('‘x’ is not a number such as 1.5')
  })

  it('needs no clearance where lifters are hydraulic', () => {
    const none = { intake: range('', ''), exhaust: range('', '') }
    expect(faults({ ...none, adjustment: 'hydraulic' })).toEqual({})
  })

  it('says where the other unit would do', () => {
    expect(otherUnitWouldDo(typed({ intake: range('15', '20') }))).toBe(true)
    expect(otherUnitWouldDo(typed({ intake: range('0.15', '0.20') }))).toBe(false)
  })

  it('lets a changed spec hold from a day on, the old one before it', () => {
    const { data } = read({ specFrom: '2026-05-01', intake: range('0.10', '0.15') })
    expect(data?.spec.intake).toMatchObject({ min_mm: 0.15 })
    expect(data?.spec_changes?.[0]).toMatchObject({
      date: '2026-05-01',
      spec: { intake: { min_mm: 0.1 } },
    })
  })
})

describe('the valves of a head described anew', () => {
  it('keep what was noted of those that stay', () => {
    const known = typed({}).values.valves.map((one) => ({ ...one, shim: '2.15' }))
    const placed = placedValves(known, [
      { id: '1I', cylinder: 1, side: 'intake', place: 1 },
      { id: '2I', cylinder: 2, side: 'intake', place: 2 },
    ])
    expect(placed.map((one) => [one.id, one.shim])).toEqual([
      ['1I', '2.15'],
      ['2I', ''],
    ])
  })
})

describe('what the server says', () => {
  it.each([
    ['$.engine.spec.intake.figure_mm', 'intake.min'],
    ['$.engine.spec.exhaust', 'exhaust'],
    ['$.engine.valves[3].spec.max_mm', 'valves.3.spec.max'],
    ['$.engine.valves[0].shim_mm', 'valves.0.shim'],
    ['$.engine.torque[1].nm', 'torque'],
    ['$.engine.firing_order[2]', 'firingOrder'],
    ['$.engine.check_interval', 'figures.check_interval'],
    ['$.engine.fuel', 'texts.fuel'],
    ['$.engine.shim_series.step_mm', 'shims.step'],
    ['$.engine.id', undefined],
  ])('%s is shown at %s', (path, field) => {
    expect(fieldOf(path)).toBe(field)
  })
})

describe('an id', () => {
  it('comes from the name, and tells itself from those that are there', () => {
    expect(idFor('Löffel Bagger 3', ['loffel-bagger-3'])).toBe('loffel-bagger-3-2')
    expect(idFor('***', [])).toBe('engine')
  })
})
