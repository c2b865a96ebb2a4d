import { t } from '@lingui/core/macro'
import type { LengthUnit } from '@/design/format'
import { bladesFault, typedBladesMm } from '@/design/typedLength'
import { thicknessMm, type Felt } from './bladeChoice'

export type TypedAnswer = { bladesMm: number[]; felt: Felt; entered: string }
type Typed =
  | { kind: 'no reading' }
  | { kind: 'reading'; answers: TypedAnswer[] }
  | { kind: 'fault'; fault: string }

const BETWEEN = /^(.+?)\s*(?:-|–|\.\.\.?|\bto\b)\s*(.+)$/i
const BOUND = /^([<>=])\s*(.+)$/
const UNIT = /\s*(mm|thou|th|t|inch|in|")\s*$/i

/**
 * A reading as it is written on a sheet, and the answers that it stands for: '0.13-0.15' went in and would not
 * go, '<0.04' would not go, '>0.40' went in, '=0.13' drags. A blade alone is no reading.
 */
export function typedReading(text: string, unit: LengthUnit): Typed {
  const bound = BOUND.exec(text.trim())
  if (bound) {
    const felt = { '<': 'no-go', '>': 'go', '=': 'drag' } as const
    return answers([[bound[2] ?? '', felt[bound[1] as '<' | '>' | '=']]], text, unit)
  }
  const between = BETWEEN.exec(text.trim())
  if (!between) return { kind: 'no reading' }
  const [, thin = '', thick = ''] = between
  // A unit at the end is that of both.
  const shared = UNIT.test(thin) ? '' : (UNIT.exec(thick)?.[0] ?? '')
  const read = answers(
    [
      [thin + shared, 'go'],
      [thick, 'no-go'],
    ],
    text,
    unit,
  )
  if (read.kind !== 'reading') return read
  const [went, refused] = read.answers
  return went && refused && thicknessMm(went.bladesMm) >= thicknessMm(refused.bladesMm)
    ? {
        kind: 'fault',
        fault: t`‘${text}’: the second blade, which would not go, is the thicker one`,
      }
    : read
}

function answers(parts: [string, Felt][], text: string, unit: LengthUnit): Typed {
  const found: TypedAnswer[] = []
  for (const [part, felt] of parts) {
    const bladesMm = typedBladesMm(part, unit)
    if (!bladesMm)
      return { kind: 'fault', fault: bladesFault(part, unit) ?? t`‘${part}’ is no blade` }
    found.push({ bladesMm, felt, entered: text.trim() })
  }
  return { kind: 'reading', answers: found }
}
