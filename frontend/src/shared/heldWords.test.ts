import { expect, test } from 'vitest'
import { heldWords } from './heldWords'

const NOTHING = {
  visits: 0,
  readings: 0,
  answers: 0,
  adjustments: 0,
  cases: 0,
  notes: 0,
  photographs: 0,
}

test.each([
  ['engine', {}, ''],
  ['engine', { visits: 1 }, '1 visit'],
  ['engine', { visits: 8, readings: 64, photographs: 1 }, '8 visits, 64 readings and 1 photo'],
  ['visit', { visits: 1, answers: 2 }, '2 feeler answers'],
  ['case', { cases: 1, notes: 1 }, '1 note'],
] as const)('of a deleted %s with %o is said "%s"', (kind, held, words) => {
  expect(heldWords({ ...NOTHING, ...held }, kind)).toBe(words)
})
