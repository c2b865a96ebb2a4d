import { describe, expect, it } from 'vitest'
import type { Cause, Diagnosis } from '@/api/client'
import { evidenceRows, shownCauses, wording } from './evidence'

const finding = (id: string, decibans: number, valves: string[], presence = 1) => ({
  finding: id,
  label: id,
  where: valves.join(' ') || null,
  valves,
  presence,
  decibans,
})

function cause(id: string, probability: number, valves: string[], given: Partial<Cause>): Cause {
  return {
    cause: id,
    where: id,
    valves,
    probability,
    for: [],
    against: [],
    ...given,
  } as unknown as Cause
}

describe('the wording of a finding', () => {
  it('says how surely it is there', () => {
    expect(wording({ label: 'ticking', presence: 1 })).toBe('ticking')
    expect(wording({ label: 'ticking', presence: 0 })).toBe('not: ticking')
    expect(wording({ label: 'ticking', presence: 0.7 })).toBe('ticking (70\u00a0%)')
  })
})

describe('the rows of evidence', () => {
  const seats = cause('seats', 0.9, ['1E', '2E'], {
    for: [finding('tight', 8, ['1E']), finding('tight', 6, ['2E'])] as unknown as Cause['for'],
    against: [finding('ticking', -4, [])] as unknown as Cause['against'],
  })
  const rings = cause('rings', 0.1, [], {
    for: [finding('smoke', 12, []), finding('tight', 0.2, ['1E'])] as unknown as Cause['for'],
  })

  it('gather the same finding at several valves, strongest first', () => {
    const rows = evidenceRows([seats, rings], undefined)
    expect(rows.map((row) => row.label)).toEqual(['smoke', 'tight', 'ticking'])
    expect(rows[1]).toMatchObject({ valves: ['1E', '2E'], where: '1E, 2E' })
    // The strongest of the row counts, and what hardly weighs has no thread.
    expect(rows[1]?.threads).toEqual([{ cause: 'seats seats', decibans: 8, valves: ['1E', '2E'] }])
  })

  it('put those of the chosen cause first', () => {
    expect(evidenceRows([seats, rings], seats)[0]?.label).toBe('tight')
  })
})

describe('causes that may be at several places', () => {
  const lobes = [0.06, 0.05, 0.05].map((p, index) =>
    cause('lobe', p, [`${index + 1}E`], { where: `${index + 1}E`, anywhere: 0.16 }),
  )
  const seats = cause('seats', 0.1, ['1E', '2E'], { anywhere: 0.1 })

  it('are one line with what they have together', () => {
    const [first, second] = shownCauses({ causes: [seats, ...lobes] } as unknown as Diagnosis)
    expect(first).toMatchObject({ cause: lobes[0], probability: 0.16, places: 3 })
    expect(second).toMatchObject({ cause: seats, probability: 0.1, places: 1 })
  })

  it('stay apart where one place is likely for itself', () => {
    const [likely, other] = [
      cause('lobe', 0.4, ['1E'], { where: '1E', anywhere: 0.45 }),
      cause('lobe', 0.06, ['2E'], { where: '2E', anywhere: 0.45 }),
    ]
    const shown = shownCauses({ causes: [likely, other] } as unknown as Diagnosis)
    expect(shown.map((one) => [one.probability, one.places])).toEqual([
      [0.4, 1],
      [0.06, 1],
    ])
  })
})

it('shows three causes at least and none that is next to impossible beyond', () => {
  const causes = [0.9, 0.05, 0.002, 0.001].map((p, index) => cause(`c${index}`, p, [], {}))
  expect(shownCauses({ causes } as unknown as Diagnosis)).toHaveLength(3)
})
