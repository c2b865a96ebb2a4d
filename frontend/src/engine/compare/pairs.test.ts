import { describe, expect, it } from 'vitest'
import type { Analysis } from '@/api/client'
import { startingPair, suggestedPairs } from './pairs'

const analysis = (...visits: { visit: string; head_work?: boolean }[]) =>
  ({
    engine: 'e',
    valves: [{ history: visits.map((one) => ({ head_work: false, ...one })) }],
  }) as unknown as Analysis

describe('what an engine’s visits suggest to compare', () => {
  it('is nothing without a visit, and the work itself with one', () => {
    expect(startingPair(analysis())).toBeNull()
    expect(startingPair(analysis({ visit: 'v1' }))).toEqual([
      { engine: 'e', visit: 'v1', when: 'found' },
      { engine: 'e', visit: 'v1', when: 'after' },
    ])
  })

  it('is what moved since the visit before, with two', () => {
    expect(startingPair(analysis({ visit: 'v1' }, { visit: 'v2' }))).toEqual([
      { engine: 'e', visit: 'v1', when: 'after' },
      { engine: 'e', visit: 'v2', when: 'found' },
    ])
  })

  it('names earlier work on the head', () => {
    const known = analysis({ visit: 'v1' }, { visit: 'v2', head_work: true }, { visit: 'v3' })
    expect(suggestedPairs(known).map((one) => one.label)).toContain(
      'Before and after the head work of v2',
    )
  })
})
