import type { LengthUnit } from './format'
import { MM_PER_THOU } from './format'

/**
 * Lengths as they are typed: '0.15', '0,15 mm', '6 thou', '.006 in', and stacks, '0.20 + 0.08'. A figure
 * without a unit is in the one chosen.
 */

const TYPED = /^(\d+(?:[.,]\d*)?|[.,]\d+)\s*(mm|thou|th|t|in|")?$/i

/** One length in mm; undefined where what was typed is no length. */
export function typedLengthMm(text: string, unit: LengthUnit): number | undefined {
  const match = TYPED.exec(text.trim())
  if (!match) return undefined
  const figure = Number((match[1] ?? '').replace(',', '.'))
  switch (match[2]?.toLowerCase()) {
    case undefined:
      return toMm(figure, unit)
    case 'mm':
      return rounded(figure)
    case 'in':
    case '"':
      return toMm(figure * 1000, 'thou')
    default:
      return toMm(figure, 'thou')
  }
}

function toMm(figure: number, unit: LengthUnit): number {
  return rounded(unit === 'mm' ? figure : figure * MM_PER_THOU)
}

// Ten-thousandths: finer than any blade is made, and no tail of the binary sum.
function rounded(mm: number): number {
  return Math.round(mm * 10_000) / 10_000
}

/** A blade or a stack of blades, mm; undefined where a part of it is no length over none. */
export function typedBladesMm(text: string, unit: LengthUnit): number[] | undefined {
  const blades = text.split('+').map((part) => typedLengthMm(part, unit))
  return blades.every((blade): blade is number => blade !== undefined && blade > 0)
    ? blades
    : undefined
}
