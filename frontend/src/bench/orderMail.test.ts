import { expect, test } from 'vitest'
import type { OrderedPart } from '@/api/client'
import { mailText } from './orderMail'

test('an order is a line a part, with what tells a shim from others', () => {
  const parts = [
    { count: 2, what: 'shim 2.100 mm', diameter_mm: 8.9 },
    { count: 1, what: 'cover gasket', diameter_mm: null },
  ] as OrderedPart[]
  expect(mailText(parts)).toBe(
    'Please send:\r\n\r\n2 x shim 2.100 mm, diameter 8.9 mm\r\n1 x cover gasket\r\n',
  )
})
