import { t } from '@lingui/core/macro'
import type { Torque } from '@/api/client'
import { NM_PER_INCH_POUND } from '@/design/format'
import { typedFigure } from '@/design/typedFigure'

/** Torques as they are typed, a line a part: 'cover | 5 10 | crosswise', in N m or with in-lb behind. */

export const TORQUE_EXAMPLE = 'cover | 5 10 | crosswise'

/** What was typed for a torque is kept beside it: a manual in inch-pounds stays one. */
function typedOf(torque: Torque): string {
  if (typeof torque.entered === 'string') return torque.entered
  return (torque.stages?.length ? torque.stages : [torque.nm]).join(' ')
}

export function torqueLines(torques: Torque[]): string {
  return torques
    .map((one) => [one.part, typedOf(one), ...(one.sequence ? [one.sequence] : [])].join(' | '))
    .join('\n')
}

/** One line as a torque, or what is wrong with it. */
export function readTorque(line: string): Torque | { fault: string } {
  const [part = '', typed = '', sequence = ''] = line.split('|').map((piece) => piece.trim())
  const inch = /in-?lbf?$/i.exec(typed)
  const figures = typed
    .replace(/(n ?m|in-?lbf?)$/i, '')
    .split(/[\s;]+|, /)
    .filter(Boolean)
    .map(typedFigure)
  if (
    !part ||
    figures.length === 0 ||
    !figures.every((one): one is number => one !== null && one > 0)
  ) {
    return {
      fault: t`‘${line.trim()}’ must be part | N m, or its stages | sequence: ${TORQUE_EXAMPLE}`,
    }
  }
  const stages = inch
    ? figures.map((one) => Math.round(one * NM_PER_INCH_POUND * 100) / 100)
    : figures
  return {
    part,
    nm: Math.max(...stages),
    stages: stages.length > 1 ? stages : null,
    sequence: sequence || null,
    entered: inch ? typed : null,
  }
}
