import { describe, expect, it } from 'vitest'
import { LostSound } from './lostSound'

const RATE_HZ = 48_000
const PIECE = 1600

const piece = (value: (frame: number) => number, channels = 1) =>
  Int16Array.from({ length: PIECE * channels }, (_, at) => value(Math.floor(at / channels))).buffer
const sound = (frame: number) => 1000 + frame

/** Two seconds, each piece as late as said. */
function listened(
  late: (index: number) => number,
  silent: (index: number) => boolean = () => false,
) {
  const lost = new LostSound(1, RATE_HZ)
  for (let index = 0; index < 60; index++) {
    const atS = ((index + 1) * PIECE) / RATE_HZ + late(index)
    lost.add(piece(silent(index) ? () => 0 : sound), 100 + atS)
  }
  return lost.seconds
}

describe('sound that is missing', () => {
  it('is none where all pieces come, some of them late', () => {
    expect(listened((index) => (index % 7 === 0 ? 0.3 : 0))).toBe(0)
  })
  it('is what the sound falls behind the clock', () => {
    expect(listened((index) => (index < 20 ? 0 : 0.2))).toBeCloseTo(0.2, 6)
  })
  it('is what was filled with zeros between sounds, and not the silence before the first', () => {
    const zeros = (index: number) => index < 5 || index === 30 || index === 31
    expect(listened(() => 0, zeros)).toBeCloseTo((2 * PIECE) / RATE_HZ, 6)
  })
  it('is what follows where the microphone was pulled out', () => {
    const lost = listened(
      () => 0,
      (index) => index >= 48,
    )
    expect(lost).toBeCloseTo((12 * PIECE) / RATE_HZ, 6)
  })
  it('is not a moment in which the wave passes zero', () => {
    const lost = new LostSound(2, RATE_HZ)
    const brief = piece((frame) => (frame > 100 && frame < 200 ? 0 : 5), 2)
    for (let index = 0; index < 5; index++) lost.add(brief, ((index + 1) * PIECE) / RATE_HZ)
    expect(lost.seconds).toBe(0)
  })
})
