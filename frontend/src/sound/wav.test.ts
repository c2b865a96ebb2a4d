import { describe, expect, it } from 'vitest'
import { loudest, wavOf } from './wav'

const samples = (...values: number[]) => new Int16Array(values).buffer

describe('a WAV file', () => {
  it('says what it holds, and holds it', async () => {
    const file = wavOf([samples(1, 2, 3, 4), samples(-1, -2)], 2, 48_000)
    const view = new DataView(await file.arrayBuffer())
    const word = (at: number) =>
      String.fromCharCode(...Array.from({ length: 4 }, (_, index) => view.getUint8(at + index)))
    expect([word(0), word(8), word(12), word(36)]).toEqual(['RIFF', 'WAVE', 'fmt ', 'data'])
    expect(view.getUint32(4, true)).toBe(view.byteLength - 8)
    expect(view.getUint16(22, true)).toBe(2)
    expect(view.getUint32(24, true)).toBe(48_000)
    expect(view.getUint32(28, true)).toBe(48_000 * 4)
    expect(view.getUint32(40, true)).toBe(12)
    expect(view.getInt16(44 + 10, true)).toBe(-2)
  })
})

describe('the level', () => {
  it('is counted from full scale down', () => {
    expect(loudest(samples(3277, -100)).db).toBeCloseTo(-20, 1)
    expect(loudest(samples(0, 0)).db).toBeLessThan(-90)
  })
  it('says when a sample was cut off', () => {
    expect(loudest(samples(32767)).clipped).toBe(true)
    expect(loudest(samples(30000)).clipped).toBe(false)
  })
})
