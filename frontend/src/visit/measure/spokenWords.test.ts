import { describe, expect, it } from 'vitest'
import type { Advice, Estimate, Valve } from '@/api/client'
import { bladeName, nextWords, valveName } from './spokenWords'

const valves = [
  { id: '1I', cylinder: 1, side: 'intake' },
  { id: '1E1', cylinder: 1, side: 'exhaust' },
  { id: '1E2', cylinder: 1, side: 'exhaust' },
] as Valve[]
const advice = { blades_mm: [0.15], end: null } as unknown as Advice
const estimate = { verdict: 'tight', p_tight: 0.99, leaning: 'tight' } as unknown as Estimate

function next(change: object): string {
  const state = {
    settled: false,
    estimate: null,
    advice,
    hand: [0.15],
    isLast: false,
    advancesByItself: false,
    unit: 'mm' as const,
  }
  return nextWords({ ...state, ...change })
}

describe('what is said aloud', () => {
  it('names a valve by its cylinder and side, and apart where two are alike', () => {
    expect(valves.map((one) => valveName(one, valves))).toEqual([
      '1 intake',
      '1 exhaust, first',
      '1 exhaust, second',
    ])
  })

  it('names blades as they are printed', () => {
    expect(bladeName([0.2, 0.08], 'mm')).toBe('0.20 and 0.08')
    expect(bladeName([0.1524], 'thou')).toBe('6.0')
  })

  it('says the next blade until the valve is decided, and then what to say', () => {
    expect(next({})).toBe('try 0.15')
    expect(next({ settled: true, estimate })).toBe('tight. Say next valve')
    expect(next({ settled: true, estimate, isLast: true })).toBe('tight. All valves are done')
    expect(next({ settled: true, estimate, advancesByItself: true })).toBe('tight')
    expect(next({ advice: { ...advice, end: 'no-gain' } })).toBe('Not decided. Say next valve')
  })
})
