import { expect, test } from 'vitest'
import type { Timeline } from '@/api/client'
import { workInOrder } from './workOrder'

const of = (id: string, ...under_way: Partial<Timeline['under_way'][number]>[]) =>
  ({ id, archived: null, under_way }) as Timeline

test('what is promised first comes first, then what can go on, then the oldest', () => {
  const work = workInOrder([
    of('a', { visit: 'a1', state: 'waiting', promised: null, day: '2026-01-01' }),
    of('b', { visit: 'b1', state: 'open', promised: null, day: '2026-02-02' }),
    of(
      'c',
      { visit: 'c1', state: 'open', promised: '2026-03-05', day: '2026-02-01' },
      { visit: 'c2', state: 'open', promised: null, day: '2026-02-01' },
    ),
    of('d', { visit: 'd1', state: 'waiting', promised: '2026-03-04', day: '2026-02-01' }),
  ])
  expect(work.map(({ one }) => one.visit)).toEqual(['d1', 'c1', 'c2', 'b1', 'a1'])
})
