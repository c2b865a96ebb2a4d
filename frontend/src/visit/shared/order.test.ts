import { describe, expect, it } from 'vitest'
import type { CrankPlan, Valve, Visit } from '@/api/client'
import { firstUnread, isDone, measuringOrder, nextValve, valvesOf } from './order'

type State = {
  skipped?: string
  verdict?: string
  contradiction?: boolean
  end?: string | null
  tries?: number
}

function phase({
  skipped,
  verdict,
  contradiction = false,
  end,
  tries = verdict ? 1 : 0,
}: State = {}) {
  return {
    skipped: skipped ?? null,
    tries: Array.from({ length: tries }),
    estimate: verdict ? { verdict, contradiction } : null,
    advice: end === undefined ? null : { end },
  }
}

function visit(states: Record<string, State>, adjusted: string[] = []): Visit {
  const valves = Object.entries(states).map(([valve, state]) => ({
    valve,
    found: phase(state),
    left: phase(),
  }))
  return { valves, adjusted } as unknown as Visit
}

const plan = { stations: [{ valves: ['1I', '2E'] }, { valves: ['2I'] }] } as unknown as CrankPlan

describe('the order of measuring', () => {
  it('follows the crank positions, and loses no valve that they leave out', () => {
    expect(measuringOrder(visit({ '1E': {}, '1I': {}, '2E': {}, '2I': {} }), plan)).toEqual([
      ...['1I', '2E', '2I', '1E'],
    ])
    expect(measuringOrder(visit({ '1E': {}, '1I': {} }), undefined)).toEqual(['1E', '1I'])
  })

  it('takes valves that share a rocker one after the other', () => {
    const valves = [{ id: '1I', shares_rocker_with: ['2I'] }] as unknown as Valve[]
    expect(measuringOrder(visit({ '1I': {}, '2E': {}, '2I': {} }), plan, valves)).toEqual([
      '1I',
      '2I',
      '2E',
    ])
  })
})

describe('a valve is done', () => {
  it.each([
    ['skipped', { skipped: 'no time' }, true],
    ['not measured', {}, false],
    ['decided', { verdict: 'tight', end: 'settled' }, true],
    ['inconclusive with a blade left to try', { verdict: 'open', end: null }, false],
    ['contradictory', { verdict: 'in', contradiction: true, end: 'settled' }, false],
    ['without advice, but with a verdict', { verdict: 'in' }, true],
    ['without advice and inconclusive', { verdict: 'open' }, false],
  ])('%s', (_, state, done) => {
    expect(isDone(visit({ '1I': state }), 'found', '1I')).toBe(done)
  })
})

describe('the next valve', () => {
  const order = ['1I', '1E', '2I']

  it('goes round to the start and passes over what is done', () => {
    const now = visit({ '1I': {}, '1E': { skipped: 'no time' }, '2I': { verdict: 'in' } })
    expect(nextValve(order, now, 'found', '1E')).toBe('1I')
    expect(nextValve(order, now, 'found', '1I')).toBeNull()
    expect(firstUnread(order, now)).toBe('1I')
  })

  it('as left is one that was adjusted', () => {
    const now = visit({ '1I': {}, '1E': {}, '2I': {} }, ['2I'])
    expect(valvesOf(order, now, 'left')).toEqual(['2I'])
    expect(nextValve(order, now, 'left', '1I')).toBe('2I')
  })
})
