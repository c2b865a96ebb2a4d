import { describe, expect, it } from 'vitest'
import { faultsOf, howOf, NOTHING_TYPED, typedOf } from './howTyped'

describe('what is known beside a recording', () => {
  it('is nothing where nothing was typed', () => {
    expect(howOf(NOTHING_TYPED)).toMatchObject({ rpm: null, clip: null, spark_every_deg: null })
    expect(faultsOf(NOTHING_TYPED)).toEqual({})
  })

  it('goes into the boxes and comes back out of them', () => {
    const how = {
      rpm: 870.5,
      revs_raised: true,
      clip: 2,
      sound_channel: 1,
      spark_every_deg: 360 as const,
      advance_deg: 12,
      mic_distance_m: 0.5,
    }
    expect(howOf(typedOf(how, 'left', 'cold'))).toEqual(how)
  })

  it('takes a comma for a point, and says what is right for what is wrong', () => {
    expect(howOf({ ...NOTHING_TYPED, distance: '0,4' }).mic_distance_m).toBe(0.4)
    expect(faultsOf({ ...NOTHING_TYPED, rpm: 'fast', advance: '200' })).toEqual({
      rpm: 'must be a number from 200 to 9000 rpm',
      advance: 'must be a number from -60 to 90 degrees before top',
    })
  })
})
