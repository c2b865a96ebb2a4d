import { describe, expect, it } from 'vitest'
import type { KeptRequest, Waiting } from './outbox'
import { asIfSent, mayWait, placeOf, wordsOf } from './whileAway'

const VISIT = '/api/engines/e/visits/v1'

function waits(method: string, path: string, body: object | Blob, refused = false): Waiting {
  const sent = body instanceof Blob ? body : JSON.stringify(body)
  const request: KeptRequest = { kind: 'request', method, path, headers: [], body: sent, words: '' }
  return {
    ...request,
    key: '1',
    at: 0,
    engineId: 'e',
    visitId: 'v1',
    refused: refused ? { message: 'no', faults: [] } : undefined,
  }
}

const finding = (state: string, refused = false) =>
  waits('PUT', `${VISIT}/findings/tick`, { state, cylinder: 2 }, refused)

describe('what may wait for the server', () => {
  it('is what can be sent twice and what a page can show meanwhile', () => {
    expect(mayWait('PUT', `${VISIT}/findings/tick`)).toBe(true)
    expect(mayWait('PATCH', VISIT)).toBe(true)
    expect(mayWait('DELETE', `${VISIT}/settings/s1`)).toBe(true)
    // Answers have a line of their own; an import or a person is no work at a visit.
    expect(mayWait('PUT', `${VISIT}/tries/t1`)).toBe(false)
    expect(mayWait('POST', '/api/records')).toBe(false)
    expect(mayWait('PUT', '/api/people/p1')).toBe(false)
    expect(mayWait('GET', VISIT)).toBe(false)
  })

  it('is called by what it is', () => {
    expect(wordsOf(finding('present') as KeptRequest)).toBe('finding tick, yes, cylinder 2')
    const photo = waits('PUT', `${VISIT}/photographs/p1?step=measure&valve=4E`, new Blob())
    expect(wordsOf(photo as KeptRequest)).toBe('photo: 4E')
    const changed = waits('PATCH', VISIT, { changes: { temperature_c: 14 }, was: {} })
    expect(wordsOf(changed as KeptRequest)).toBe('temperature')
  })

  it('is of an engine, and of a visit where it is of one', () => {
    expect(placeOf(`${VISIT}/findings/tick`)).toEqual({ engineId: 'e', visitId: 'v1' })
    expect(placeOf('/api/engines/a%20b/cases/c1')).toEqual({ engineId: 'a b', visitId: null })
  })
})

describe('an answer as if all had been sent', () => {
  const known = { findings: [{ id: 'tick', state: 'absent', cylinder: 2 }], parts: [] }

  it('has the last of several in place of what was there', () => {
    const shown = asIfSent(VISIT, known, [finding('present'), finding('unknown')])
    expect(shown).toEqual({
      ...known,
      findings: [{ id: 'tick', state: 'unknown', cylinder: 2 }],
    })
  })

  it('has a quick check with what was seen, and not one that was taken back', () => {
    const check = (done: boolean, seen = '') =>
      waits('PUT', `${VISIT}/quick-checks/fuel-look`, { done, seen })
    const before = { quick_checks: { 'spark-test': { seen: 'blue' } } }
    expect(asIfSent(VISIT, before, [check(true, 'stale')])).toEqual({
      quick_checks: { 'spark-test': { seen: 'blue' }, 'fuel-look': { seen: 'stale' } },
    })
    expect(asIfSent(VISIT, before, [check(true, 'stale'), check(false)])).toEqual(before)
    expect(wordsOf(check(true) as KeptRequest)).toBe('quick check: fuel look')
  })

  it('has the parts changed at one valve, beside those at others', () => {
    const changed = (...parts: string[]) => waits('PUT', `${VISIT}/parts-changed/3E`, { parts })
    const before = { parts_changed: [{ valve: '1I', part: 'spring' }] }
    expect(asIfSent(VISIT, before, [changed('seat'), changed('seat', 'valve')])).toEqual({
      parts_changed: [
        { valve: '1I', part: 'spring' },
        { valve: '3E', part: 'seat' },
        { valve: '3E', part: 'valve' },
      ],
    })
    expect(asIfSent(VISIT, before, [changed('seat'), changed()])).toEqual(before)
    expect(wordsOf(changed('seat') as KeptRequest)).toBe('parts changed at 3E')
  })

  it('has nothing of what was refused, and nothing of another visit', () => {
    expect(asIfSent(VISIT, known, [finding('present', true)])).toEqual(known)
    expect(asIfSent('/api/engines/e/visits/v10', known, [finding('present')])).toEqual(known)
  })

  it('shows a photograph once, with where it was taken', () => {
    const photo = waits(
      'PUT',
      `${VISIT}/photographs/p1?step=measure&valve=4E&text=seat`,
      new Blob(),
    )
    const shown = asIfSent(`${VISIT}/photographs`, [], [photo, photo]) as { id: string }[]
    expect(shown).toHaveLength(1)
    expect(shown[0]).toMatchObject({ id: 'p1', step: 'measure', valve: '4E', text: 'seat' })
  })
})
