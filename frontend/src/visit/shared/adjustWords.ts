import { t } from '@lingui/core/macro'
import type { AdjustStep } from '@/api/client'
import { bladeFigure, type LengthUnit } from '@/design/format'

export type Done = AdjustStep['settings'][number]

/** A blade or a stack as one would import it the hand. */
export function stackText(bladesMm: number[], unit: LengthUnit): string {
  return `${bladesMm.map((mm) => bladeFigure(mm, unit)).join(' + ')} ${unit}`
}

/** Where a shim comes from, in words. */
export function sourceText(source: string): string {
  if (source === 'stock') return t`from the box`
  if (source === 'order') return t`to order`
  return source
}
