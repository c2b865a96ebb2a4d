import { t } from '@lingui/core/macro'
import type { PaperLine } from '@/api/client'
import { newId } from '@/api/client'
import type { LengthUnit } from '@/design/format'
import { bladesFault, typedBladesMm } from '@/design/typedLength'

/** A line of the sheet as it is typed: one valve, the thickest that went, the thinnest that did not. */
export type Line = { id: string; valve: string; went: string; refused: string }

export function blankLine(valve = ''): Line {
  return { id: `p-${newId().slice(0, 12)}`, valve, went: '', refused: '' }
}

export function isBlank(line: Line): boolean {
  return line.went.trim() === '' && line.refused.trim() === ''
}

type Went = { blades: string; felt: PaperLine['felt'] }

/** How it felt stands behind the blade: 'd' for drags, 'f' for falls free; nothing: it went in. */
function wentOf(typed: string): Went {
  const match = /^(.*?)\s*([df])\s*$/i.exec(typed)
  if (!match) return { blades: typed, felt: 'go' }
  return { blades: match[1] ?? '', felt: match[2]?.toLowerCase() === 'd' ? 'drag' : 'free' }
}

export type Read = { line: PaperLine | null; fault: string | null }

/** A line as the server takes it, or what is wrong with it. */
export function readLine(typed: Line, unit: LengthUnit, phase: PaperLine['phase']): Read {
  const { blades, felt } = wentOf(typed.went)
  const went = blades.trim() === '' ? null : typedBladesMm(blades, unit)
  const refused = typed.refused.trim() === '' ? null : typedBladesMm(typed.refused, unit)
  const example = unit === 'mm' ? '0.15, 0.20+0.08' : '6, 8+3'
  if (went === undefined || refused === undefined) {
    const wrong = went === undefined ? blades : typed.refused
    const why = bladesFault(wrong, unit) ?? t`‘${wrong}’ is not a blade: ${example}`
    return { line: null, fault: t`${why}; add d for drags, f for slides freely` }
  }
  if (typed.valve.trim() === '') return { line: null, fault: t`which valve?` }
  return {
    fault: null,
    line: {
      id: typed.id,
      valve: typed.valve.trim(),
      phase,
      felt,
      went: went && { blades_mm: went, entered: withUnit(blades, unit) },
      refused: refused && { blades_mm: refused, entered: withUnit(typed.refused, unit) },
    },
  }
}

/** As it was written, with the unit that was meant. */
function withUnit(typed: string, unit: LengthUnit): string {
  const plain = typed.trim()
  return /[a-z"]$/i.test(plain) ? plain : `${plain} ${unit}`
}
