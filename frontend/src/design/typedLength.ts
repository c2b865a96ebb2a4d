import { t } from '@lingui/core/macro'
import type { LengthUnit } from './format'
import { MM_PER_THOU, fixed } from './format'

/**
 * Lengths as they are typed: '0.15', '0,15 mm', '10 thou', '.010 in', '0.010"', and stacks, '0.20 + 0.08'.
 *
 * A figure without a unit is in the one chosen, where that makes sense of a valve clearance. Where it does
 * not, it is imported the only unit that does, or asked about with every reading that makes sense: manuals
 * print .010 for ten thousandths of an inch, whatever unit a form is in.
 */

const TYPED = /^(\d+(?:[.,]\d*)?|[.,]\d+)\s*(mm|thou|th|t|inch|in|")?$/i
/** Thinner than any blade, and wider than any valve clearance, mm. */
const [LEAST_MM, MOST_MM] = [0.02, 1.2]
const MM_PER_INCH = 1000 * MM_PER_THOU

export type LengthReading = {
  mm: number
  /** As it is written with its unit: '0.010 in'. */
  text: string
  /** In words, with what it comes to: '0.010 inch = 0.254 mm'. */
  label: string
}

type Understood =
  | { kind: 'blank' }
  | { kind: 'not a length' }
  | {
      kind: 'length'
      mm: number
      /** Told where the unit is not the one that is shown. */ note?: string
    }
  | { kind: 'asked'; readings: LengthReading[] }

function reading(digits: string, unit: 'mm' | 'thou' | 'in'): LengthReading {
  const figure = Number(digits)
  const mm = rounded(
    unit === 'mm' ? figure : figure * (unit === 'thou' ? MM_PER_THOU : MM_PER_INCH),
  )
  // A figure that begins with its point is written with a nought before it.
  const plain = digits.startsWith('.') ? `0${digits}` : digits
  const words = unit === 'in' ? 'inch' : unit
  return {
    mm,
    text: `${plain} ${unit}`,
    label: unit === 'mm' ? `${plain} mm` : `${plain} ${words} = ${fixed(mm, 3)} mm`,
  }
}

function makesSense({ mm }: LengthReading): boolean {
  return mm >= LEAST_MM && mm <= MOST_MM
}

/** What was typed, as a length. */
export function understoodLength(text: string, unit: LengthUnit): Understood {
  if (text.trim() === '') return { kind: 'blank' }
  const match = TYPED.exec(text.trim())
  if (!match) return { kind: 'not a length' }
  const digits = (match[1] ?? '').replace(',', '.')
  const given = match[2]?.toLowerCase()
  if (given !== undefined) {
    const named = given === 'mm' ? 'mm' : /^(in|inch|")$/.test(given) ? 'in' : 'thou'
    const { mm, label } = reading(digits, named)
    return named === unit ? { kind: 'length', mm } : { kind: 'length', mm, note: label }
  }
  const own = reading(digits, unit)
  if (makesSense(own)) return { kind: 'length', mm: own.mm }
  const others = (['in', 'thou', 'mm'] as const)
    .filter((other) => other !== unit)
    .map((other) => reading(digits, other))
    .filter(makesSense)
  const [only] = others
  if (!only) return { kind: 'length', mm: own.mm }
  // A tenth of a thou is no reading of anything: there is nothing to choose.
  if (unit === 'thou' && others.length === 1 && own.mm < 0.001) {
    return { kind: 'length', mm: only.mm, note: only.label }
  }
  return { kind: 'asked', readings: own.mm > 0 ? [...others, own] : others }
}

/** One length in mm; undefined where what was typed is no length, or could be more than one. */
export function typedLengthMm(text: string, unit: LengthUnit): number | undefined {
  const understood = understoodLength(text, unit)
  return understood.kind === 'length' ? understood.mm : undefined
}

/** What is wrong with a length that was typed, or what it could mean; null where nothing is. */
export function lengthFault(text: string, unit: LengthUnit): string | null {
  const understood = understoodLength(text, unit)
  switch (understood.kind) {
    case 'asked':
      return t`${text.trim()}: ${understood.readings.map((one) => one.label).join(t`, or `)}? Add the unit`
    case 'not a length':
      return t`‘${text}’ is not a length such as ${unit === 'mm' ? '0.15' : '6'}, 0.15 mm, 6 thou or .006 in`
    default:
      return null
  }
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

/** What is wrong with the blades that were typed. */
export function bladesFault(text: string, unit: LengthUnit): string | null {
  if (typedBladesMm(text, unit)) return null
  return (
    text
      .split('+')
      .map((part) => lengthFault(part, unit))
      .find((fault) => fault !== null) ??
    t`‘${text}’ is not a blade such as ${unit === 'mm' ? t`0.15 or 0.20+0.08` : t`6 or 8+3`}`
  )
}

const PRINTED_SHIM = /^\d{3}$/

/** A shim, mm: '2.15', '2,15 mm', or as it is printed on it, '215'. */
export function typedShimMm(text: string): number | undefined {
  const plain = text.trim()
  if (PRINTED_SHIM.test(plain)) return Number(plain) / 100
  const match = /^(\d+(?:[.,]\d*)?|[.,]\d+)\s*(mm)?$/i.exec(plain)
  return match ? rounded(Number((match[1] ?? '').replace(',', '.'))) : undefined
}
