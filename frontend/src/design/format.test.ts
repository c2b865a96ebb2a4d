import { describe, expect, it } from 'vitest'
import { bladeFigure, chance, factor, lengthRange, percent, sinkOrWear } from './format'

describe('chance', () => {
  it.each([
    [0.999, 'almost certain (over 99\u00a0%)'],
    [0.94, 'very likely (94\u00a0%)'],
    [0.6, 'likely (60\u00a0%)'],
    [0.5, 'about even (50\u00a0%)'],
    [0.3, 'possible (30\u00a0%)'],
    [0.1, 'unlikely (10\u00a0%)'],
    [0.001, 'very unlikely (under 1\u00a0%)'],
  ])('says %d in words with the figure behind it', (probability, words) => {
    expect(chance(probability)).toBe(words)
  })

  it('is never a certainty', () => {
    expect(percent(1)).toBe('over 99\u00a0%')
    expect(percent(0)).toBe('under 1\u00a0%')
  })
})

describe('factor', () => {
  // 10 dB are a factor of ten, 3.0103 dB a factor of two.
  it.each([
    [10, '×10'],
    [3.0103, '×2.0'],
    [-3.0103, '÷2.0'],
    [0, '×1.0'],
    [45, 'over ×9999'],
    [-45, 'over ÷9999'],
  ])('turns %d dB into %s', (evidenceDb, text) => {
    expect(factor(evidenceDb)).toBe(text)
  })
})

describe('lengths', () => {
  it('shows a thousandth only where a blade has one', () => {
    expect(bladeFigure(0.28, 'mm')).toBe('0.28')
    expect(bladeFigure(0.275, 'mm')).toBe('0.275')
    expect(bladeFigure(0.254, 'thou')).toBe('10.0')
  })

  it('never shows a clearance below zero', () => {
    expect(lengthRange(-0.02, 0.04, 'mm')).toBe('0.00 to 0.04 mm')
    expect(lengthRange(0.201, 0.203, 'mm')).toBe('0.20 mm')
  })
})

describe('sinkOrWear', () => {
  it('names the way a valve went in place of a sign', () => {
    expect(sinkOrWear(0.112, 0.014, 'mm')).toBe('sink 0.112 mm ± 0.014 mm')
    expect(sinkOrWear(-0.389, 0.0141, 'mm')).toBe('wear 0.389 mm ± 0.014 mm')
    expect(sinkOrWear(-0.0254, 0.0127, 'thou')).toBe('wear 1.00 thou ± 0.50 thou')
  })
})
