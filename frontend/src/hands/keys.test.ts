import { describe, expect, it } from 'vitest'
import { actionOfKey, keyFault, putKey } from './keys'
import { SIGNALS } from './signals'

describe('keys of one’s own', () => {
  it('are found whether or not Shift is held', () => {
    const keys = putKey({}, 'drag', 'x')
    expect(actionOfKey('X', keys)).toBe('drag')
    expect(actionOfKey('x', keys)).toBe('drag')
    expect(actionOfKey('PageDown', keys)).toBeUndefined()
  })

  it('do one thing each: the last one chosen', () => {
    const first = putKey({}, 'no-go', 'PageDown')
    expect(putKey(first, 'next', 'PageDown')).toEqual({ next: 'PageDown' })
    expect(putKey(first, 'no-go', 'PageUp')).toEqual({ 'no-go': 'PageUp' })
    expect(putKey(first, 'no-go', null)).toEqual({})
  })

  it('are none that the browser needs', () => {
    expect(keyFault('Tab')).toContain('Tab')
    expect(keyFault('F5')).toBeUndefined()
  })
})

describe('signals', () => {
  it('are told apart without pitch: up, down, level, and by how often it vibrates', () => {
    const steps = Object.values(SIGNALS).map(({ tonesHz }) => Math.sign(tonesHz[1]! - tonesHz[0]!))
    expect(steps).toEqual([1, -1, 0])
    const pulses = Object.values(SIGNALS).map(({ vibrationMs }) => (vibrationMs.length + 1) / 2)
    expect(new Set(pulses).size).toBe(3)
  })
})
