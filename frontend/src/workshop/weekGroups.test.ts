import { describe, expect, it } from 'vitest'
import type { DueCheck } from '@/api/client'
import { groupsOf, meterMail } from './weekGroups'

const check = (engine: string, within: DueCheck['within'], more: Partial<DueCheck> = {}) =>
  ({ engine, within, customer: null, kind: null, ...more }) as DueCheck

const owner = (name: string) => ({ id: name, name, telephone: '', email: '' })

describe('the week by day, customer and kind', () => {
  const checks = [
    check('a', 'overdue', { customer: owner('Ice rink') }),
    check('b', 'later', { kind: 'pump' }),
    check('c', 'this week', { customer: owner('Ice rink'), kind: 'pump' }),
  ]
  const named = (grouping: 'day' | 'customer' | 'kind') =>
    groupsOf(checks, grouping).map(({ title, checks: of }) => [
      title,
      of.map((one) => one.engine).join(''),
    ])

  it('stands in the order of time', () => {
    expect(named('day')).toEqual([
      ['Due now', 'a'],
      ['This week', 'c'],
      ['Later', 'b'],
    ])
  })

  it('gathers what is one customer’s, or of one kind', () => {
    expect(named('customer')).toEqual([
      ['Ice rink', 'ac'],
      ['nobody named', 'b'],
    ])
    expect(named('kind')).toEqual([
      ['kind not entered', 'a'],
      ['pump', 'bc'],
    ])
  })

  it('asks for the meter with what is known of it', () => {
    expect(meterMail('Pump 2', '3 Jan 2026', '410 h')).toContain(
      'on 3 Jan 2026, the running total was 410 h',
    )
  })
})
