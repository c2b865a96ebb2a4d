import { t } from '@lingui/core/macro'
import { locale } from './language'

/** Numbers with their units, written in one place: no more digits than are known. */

export type LengthUnit = 'mm' | 'thou'

export const MM_PER_THOU = 0.0254

const DIGITS = new Map<string, Intl.NumberFormat>()

/** A number to so many digits, with the decimal sign of the language; nothing parts its thousands. */
export function fixed(value: number, digits: number): string {
  const key = `${locale()} ${digits}`
  const known =
    DIGITS.get(key) ??
    new Intl.NumberFormat(locale(), {
      minimumFractionDigits: digits,
      maximumFractionDigits: digits,
      useGrouping: false,
    })
  DIGITS.set(key, known)
  return known.format(value)
}

/** A clearance or a blade: hundredths of a millimetre, or tenths of a thou. */
export function lengthFigure(mm: number, unit: LengthUnit): string {
  return unit === 'mm' ? fixed(mm, 2) : fixed(mm / MM_PER_THOU, 1)
}

/** A blade as it is printed: inch sets have thicknesses in mm to a thousandth. */
export function bladeFigure(mm: number, unit: LengthUnit): string {
  if (unit === 'thou') return lengthFigure(mm, unit)
  return Math.abs(mm - Math.round(mm * 100) / 100) < 0.0004 ? fixed(mm, 2) : fixed(mm, 3)
}

export function length(mm: number, unit: LengthUnit): string {
  return `${lengthFigure(mm, unit)} ${unit}`
}

/** A range of clearances, never below zero: a gap cannot be less than none. */
export function lengthRange(lowMm: number, highMm: number, unit: LengthUnit): string {
  const low = lengthFigure(Math.max(lowMm, 0), unit)
  const high = lengthFigure(Math.max(highMm, 0), unit)
  return low === high ? `${low} ${unit}` : t`${low} to ${high} ${unit}`
}

/** A small length to a thousandth of a millimetre: drift and its sdText. */
export function sdText(mm: number, unit: LengthUnit): string {
  return unit === 'mm' ? `${fixed(mm, 3)} mm` : `${fixed(mm / MM_PER_THOU, 2)} thou`
}

/** A movement with its sign. */
export function movement(mm: number, unit: LengthUnit): string {
  const figure = sdText(Math.abs(mm), unit)
  // Nothing has no sign.
  if (!/[1-9]/.test(figure)) return figure
  return `${mm < 0 ? '−' : '+'}${figure}`
}

/**
 * How far a valve moved in all, adjustments added back: named rather than signed, for a signed sink would be
 * counted the other way round than the drift beside it.
 */
export function sinkOrWear(sinkMm: number, sdMm: number, unit: LengthUnit): string {
  const far = `${sdText(Math.abs(sinkMm), unit)} ± ${sdText(sdMm, unit)}`
  return sinkMm < 0 ? t`wear ${far}` : t`sink ${far}`
}

/** A usage without its unit, in thousands held together by hard spaces: it must not break across lines. */
export function usageFigure(value: number): string {
  const format = new Intl.NumberFormat(locale(), {
    maximumFractionDigits: 1,
    useGrouping: 'always',
  })
  const parts = format.formatToParts(value)
  return parts.map((part) => (part.type === 'group' ? '\u00a0' : part.value)).join('')
}

export function usage(value: number, unit: string): string {
  return `${usageFigure(Math.round(value))}\u00a0${unit}`
}

export function day(isoDate: string): string {
  const date = new Date(`${isoDate}T12:00:00`)
  return date.toLocaleDateString(locale(), { day: 'numeric', month: 'short', year: 'numeric' })
}

/** A moment in this machine's own time, to the minute. */
export function moment(iso: string): string {
  const at = new Date(iso)
  const two = (value: number) => String(value).padStart(2, '0')
  const date = `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`
  return `${day(date)}, ${two(at.getHours())}:${two(at.getMinutes())}`
}

/** The day here and now, as the API writes it. */
export function today(): string {
  const now = new Date()
  const two = (n: number) => String(n).padStart(2, '0')
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`
}

/** Whole per cent, but never a certainty that nobody has. */
export function percent(probability: number): string {
  if (probability >= 0.995) return t`over 99\u00a0%`
  if (probability < 0.005) return t`under 1\u00a0%`
  return `${Math.round(probability * 100)}\u00a0%`
}

const WORDS: [number, string][] = [
  [0.98, t`almost certain`],
  [0.9, t`very likely`],
  [0.55, t`likely`],
  [0.45, t`about even`],
  [0.2, t`possible`],
  [0.05, t`unlikely`],
]

export function chance(probability: number): string {
  const word = WORDS.find(([least]) => probability >= least)?.[1] ?? t`very unlikely`
  return `${word} (${percent(probability)})`
}

/** How many times likelier (×) or less likely (÷) a cause is by evidence of so many decibels. */
export function factor(evidenceDb: number): string {
  const times = 10 ** (Math.abs(evidenceDb) / 10)
  const digits = times < 9.95 ? 1 : 0
  const sign = evidenceDb < 0 ? '÷' : '×'
  return times > 9999 ? t`over ${sign}9999` : `${sign}${fixed(times, digits)}`
}

export const NM_PER_INCH_POUND = 0.1129848

/** A torque in newton metres and in inch-pounds, in its stages. */
export function torqueText(torque: {
  nm: number
  stages?: number[] | null
  sequence?: string | null
}): string {
  const stages = torque.stages?.length ? torque.stages : [torque.nm]
  const inch = stages.map((nm) => Math.round(nm / NM_PER_INCH_POUND))
  const order = torque.sequence ? `, ${torque.sequence}` : ''
  return `${stages.join(t`, then `)} N m (${inch.join(t`, then `)} in-lb)${order}`
}
