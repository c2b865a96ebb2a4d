import { describe, expect, it } from 'vitest'
import { typedReading } from './typedReading'

function said(text: string, unit: 'mm' | 'thou' = 'mm') {
  const typed = typedReading(text, unit)
  return typed.kind === 'reading'
    ? typed.answers.map(({ bladesMm, felt }) => [...bladesMm.map((mm) => +mm.toFixed(4)), felt])
    : typed.kind
}

describe('a typed reading', () => {
  it.each([
    [
      '0.13-0.15',
      [
        [0.13, 'go'],
        [0.15, 'no-go'],
      ],
    ],
    [
      '0,13 – 0,15 mm',
      [
        [0.13, 'go'],
        [0.15, 'no-go'],
      ],
    ],
    [
      '0.13 to 0.15',
      [
        [0.13, 'go'],
        [0.15, 'no-go'],
      ],
    ],
    [
      '5-6 thou',
      [
        [0.127, 'go'],
        [0.1524, 'no-go'],
      ],
    ],
    ['<0.04', [[0.04, 'no-go']]],
    ['> 0.40', [[0.4, 'go']]],
    ['=0.13', [[0.13, 'drag']]],
    ['=0.20+0.08', [[0.2, 0.08, 'drag']]],
  ])('%s stands for answers', (text, answers) => {
    expect(said(text)).toEqual(answers)
  })

  it('is in the unit of the page where it says none', () => {
    expect(said('5-6', 'thou')).toEqual([
      [0.127, 'go'],
      [0.1524, 'no-go'],
    ])
  })

  it('is none where a blade is typed', () => {
    expect(said('0.15')).toBe('no reading')
    expect(said('0.20+0.08')).toBe('no reading')
  })

  it('says what is wrong with it', () => {
    expect(typedReading('0.15-0.13', 'mm')).toMatchObject({
      fault: '‘0.15-0.13’: the second blade, which would not go, is the thicker one',
    })
    expect(typedReading('<O.04', 'mm')).toMatchObject({ kind: 'fault' })
  })
})
