import type { SetStop } from '@/api/client'
import { bladeFigure, type LengthUnit } from '@/design/format'

export type Done = SetStop['settings'][number]

/** A turn in words: degrees, the nearest sixteenth of a turn, and which way. */
export function turnWords(degrees: number): string {
  const way = degrees > 0 ? 'clockwise' : 'anticlockwise'
  const sixteenths = Math.round(Math.abs(degrees) / 22.5)
  return `${Math.abs(degrees).toFixed(0)}° ${way}, ${shareOf(sixteenths)}`
}

function shareOf(sixteenths: number): string {
  if (sixteenths === 0) return 'less than a sixteenth of a turn'
  if (sixteenths === 1) return 'about a sixteenth of a turn'
  if (sixteenths % 16 === 0) return sixteenths === 16 ? 'one turn' : `${sixteenths / 16} turns`
  if (sixteenths > 16) return `about ${(sixteenths / 16).toFixed(1)} turns`
  let [top, bottom] = [sixteenths, 16]
  while (top % 2 === 0) [top, bottom] = [top / 2, bottom / 2]
  return `about ${top}/${bottom} of a turn`
}

/** A blade or a stack as one would take it in the hand. */
export function stackText(bladesMm: number[], unit: LengthUnit): string {
  return `${bladesMm.map((mm) => bladeFigure(mm, unit)).join(' + ')} ${unit}`
}

/** Where a shim comes from, in words. */
export function sourceText(source: string): string {
  if (source === 'stock') return 'from the box'
  if (source === 'order') return 'to order'
  return source
}

const CAME = { stock: 'from the box', order: 'bought', moved: 'from' }

/** What was done in one setting. */
export function doneText(done: Done, unit: LengthUnit): string {
  const words: string[] = []
  if (done.shim_to_mm !== null) {
    const was = done.shim_from_mm === null ? '' : `${done.shim_from_mm.toFixed(3)} out, `
    const came = done.source
      ? ` ${CAME[done.source]}${done.moved_from ? ` ${done.moved_from}` : ''}`
      : ''
    words.push(`shim ${was}${done.shim_to_mm.toFixed(3)} mm in${came}`)
  } else if (done.target_mm !== null) {
    words.push(`set to ${bladeFigure(done.target_mm, unit)} ${unit}`)
  }
  if (done.turn_deg !== null)
    words.push(done.target_mm === null ? preloadWords(done.turn_deg) : turnWords(done.turn_deg))
  const locked = done.lock_ups.length
  if (locked > 0) words.push(locked === 1 ? 'locked once' : `locked ${locked} times`)
  if (done.reason) words.push(done.reason)
  return words.join('; ') || 'set'
}

/** The preload of a hydraulic lifter. */
export function preloadWords(degrees: number): string {
  return `preloaded ${Math.abs(degrees) / 360} turns from zero lash`
}
