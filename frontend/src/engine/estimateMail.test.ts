import { expect, test } from 'vitest'
import type { Money } from '@/api/client'
import { chance } from '@/design/format'
import { estimateMail } from './estimateMail'

const check: Money = {
  title: 'Check',
  lines: [
    { what: 'labour', quantity: 0.75, unit: 'h', each: 60, amount: 45 },
    { what: 'cover gasket', quantity: 1, unit: '', each: null, amount: null },
  ],
  net: 45,
  tax_percent: 20,
  tax: 9,
  total: 54,
  currency: 'EUR',
  missing: ['cover gasket'],
}

test('both prices are named with their sums, and what has no price is said to have none', () => {
  const text = estimateMail('Snow thrower', {
    check,
    check_and_adjust: { ...check, title: 'Check and adjust', tax: null, tax_percent: null },
    p_set: 0.34,
  })
  expect(text.split('\r\n')).toEqual([
    'Estimate for the valve check of Snow thrower',
    '',
    'Check:',
    '  labour, 0.75 h: 45.00',
    '  cover gasket, 1: price not known yet',
    '  tax 20 %: 9.00',
    '  total, without what has no price: 54.00 EUR',
    '',
    'Check and adjust:',
    '  labour, 0.75 h: 45.00',
    '  cover gasket, 1: price not known yet',
    '  total, without what has no price: 54.00 EUR',
    '',
    `That adjusting will be needed is ${chance(0.34)}.`,
  ])
})
