import type { Engine, Fault, Torque, Valve } from '@/api/client'
import { MM_PER_THOU, type LengthUnit } from '@/design/format'
import { toKpa } from '@/design/pressure'
import { typedFigure } from '@/design/typedFigure'
import { lengthFault, typedLengthMm, typedShimMm } from '@/design/typedLength'
import { readTorque } from './torque'
import { FIGURE_KEYS, pressureText, TEXT_KEYS, type EngineDraft, type SpecDraft } from './draft'

/** The engine as the record writes it, from what was typed; what is no figure is told by its path. */

export type Built = { engine: Engine; faults: Fault[]; unitDoubt: boolean }

/** The server asks about what is odd up to here; what lies beyond cannot be meant. */
const WIDEST_SPEC_MM = 10

type Spec = NonNullable<Valve['spec']>

class Reading {
  readonly faults: Fault[] = []
  /** Whether a spec checks as if it were printed in the other unit. */
  unitDoubt = false

  fault(path: string, message: string) {
    this.faults.push({ path, message, label: '', suggestion: null })
  }

  /** A figure, or null where nothing was typed. */
  figure(path: string, typed: string): number | null {
    if (typed.trim() === '') return null
    const value = typedFigure(typed)
    if (value === null) this.fault(path, `'${typed}' is not a number such as 1.5`)
    return value
  }

  /** A figure that must be there; without one the engine could not be sent. */
  needed(path: string, typed: string, what: string): number {
    const value = this.figure(path, typed)
    if (value === null && typed.trim() === '') this.fault(path, `needs ${what}`)
    return value ?? 0
  }

  length(path: string, typed: string, unit: LengthUnit): number | null {
    if (typed.trim() === '') return null
    const value = typedLengthMm(typed, unit)
    const wrong = lengthFault(typed, unit)
    if (value === undefined) {
      this.fault(path, wrong ?? 'enter a length')
      // A bare figure that makes sense in either unit: one press says which for all of them.
      if (wrong?.includes('Add the unit')) this.unitDoubt = true
    } else if (value > WIDEST_SPEC_MM) {
      const meant = (value * MM_PER_THOU).toFixed(3)
      this.fault(path, `is ${value} mm, far more than any clearance; ${value} thou is ${meant} mm`)
      this.unitDoubt = true
    }
    return value ?? null
  }

  /** A shim, as it measures or as it is printed. */
  shim(path: string, typed: string): number | null {
    if (typed.trim() === '') return null
    const value = typedShimMm(typed)
    if (value === undefined)
      this.fault(path, `'${typed}' is not a shim size such as 2.15, or 215 as marked`)
    return value ?? null
  }

  /** A single figure, by itself or with its tolerance either way. */
  single(path: string, { min, tolerance }: SpecDraft, unit: LengthUnit): Spec {
    const figure_mm = this.length(`${path}.figure_mm`, min, unit)
    const half = this.length(`${path}.tolerance`, tolerance, unit)
    const entered = { min: min.trim(), tolerance: tolerance.trim() || undefined, unit }
    if (figure_mm === null) return { min_mm: null, max_mm: null, figure_mm, entered: null }
    if (half === null) return { min_mm: null, max_mm: null, figure_mm, entered }
    if (half <= 0 || half >= figure_mm) {
      this.fault(
        `${path}.tolerance`,
        `must be over 0 and less than the figure itself, ${min.trim()}`,
      )
    }
    const limit = (mm: number) => Math.round(mm * 10_000) / 10_000
    return { min_mm: limit(figure_mm - half), max_mm: limit(figure_mm + half), figure_mm, entered }
  }

  spec(path: string, typed: SpecDraft, unit: LengthUnit): Spec {
    if (typed.single) return this.single(path, typed, unit)
    const { min, max } = typed
    const entered = { min: min.trim(), max: max.trim(), unit }
    const min_mm = this.length(`${path}.min_mm`, min, unit)
    const max_mm = this.length(`${path}.max_mm`, max, unit)
    const none = min_mm === null && max_mm === null
    return { min_mm, max_mm, figure_mm: null, entered: none ? null : entered }
  }

  numbers(path: string, typed: string, example: string): number[] | null {
    const parts = typed.split(/[\s,;-]+/).filter(Boolean)
    if (parts.length === 0) return null
    const numbers = parts.map(Number)
    if (numbers.some(Number.isNaN))
      this.fault(path, `'${typed}' must be numbers such as ${example}`)
    return numbers
  }
}

function isBlank(spec: SpecDraft): boolean {
  return spec.min.trim() === '' && (spec.single || spec.max.trim() === '')
}

/** A spec that changed holds from a day on; one that was wrong is put right for all days. */
function specs(draft: EngineDraft, spec: Engine['spec']): Pick<Engine, 'spec' | 'spec_changes'> {
  const changes = draft.base.spec_changes ?? []
  const kept = draft.base.spec ?? spec
  if (draft.specFrom) {
    const others = changes.filter((one) => one.date !== draft.specFrom)
    return { spec: kept, spec_changes: [...others, { date: draft.specFrom, spec }] }
  }
  const last = changes.at(-1)
  if (!last) return { spec, spec_changes: [] }
  return { spec: kept, spec_changes: [...changes.slice(0, -1), { ...last, spec }] }
}

function stations(reading: Reading, typed: string): Engine['stations'] {
  const lines = typed.split('\n').filter((line) => line.trim() !== '')
  if (lines.length === 0) return null
  return lines.map((line, index) => {
    const [deg = '', mark = '', valves = ''] = line.split('|').map((part) => part.trim())
    const path = `$.engine.stations[${index}].crank_deg`
    return {
      crank_deg: reading.needed(path, deg, 'degrees, as in 0 | mark T | 1I 1E'),
      mark: mark || null,
      valves: valves.split(/[\s,]+/).filter(Boolean),
    }
  })
}

function torques(reading: Reading, typed: string): Engine['torque'] {
  const lines = typed.split('\n').filter((line) => line.trim() !== '')
  const read = lines.map(readTorque)
  read.forEach((one) => 'fault' in one && reading.fault('$.engine.torque', one.fault))
  const sound = read.filter((one): one is Torque => !('fault' in one))
  return sound.length === 0 ? null : sound
}

export function buildEngine(draft: EngineDraft, id: string): Built {
  const reading = new Reading()
  const { head, unit } = draft
  const figures = Object.fromEntries(
    FIGURE_KEYS.map((key) => [key, reading.figure(`$.engine.${key}`, draft.figures[key])]),
  )
  const texts = Object.fromEntries(TEXT_KEYS.map((key) => [key, draft.texts[key].trim() || null]))
  if (!texts.name) reading.fault('$.engine.name', 'enter a name for this engine')
  const sides = {
    intake: reading.spec('$.engine.spec.intake', draft.intake, unit),
    exhaust: reading.spec('$.engine.spec.exhaust', draft.exhaust, unit),
  }
  if (draft.adjustment !== 'hydraulic') {
    for (const side of ['intake', 'exhaust'] as const) {
      if (isBlank(draft[side])) {
        reading.fault(
          `$.engine.spec.${side}.${draft[side].single ? 'figure_mm' : 'min_mm'}`,
          'enter the clearance from the manual',
        )
      }
    }
  }
  const typed = draft.compression
  const pressure = (end: 'min' | 'max'): number | null => {
    const figure = reading.figure(`$.engine.compression_spec_kpa.${end}`, typed[end])
    if (figure === null) return null
    // What was not typed anew is not rounded to the unit that it is shown in.
    const kept = draft.base.compression_spec_kpa?.[end]
    if (kept != null && typed[end] === pressureText(kept, typed.unit)) return kept
    return Number(toKpa(figure, typed.unit).toFixed(2))
  }
  const compression = {
    ...draft.base.compression_spec_kpa,
    min: pressure('min'),
    max: pressure('max'),
  }
  const spread = reading.figure(
    '$.engine.compression_spec_kpa.max_spread_fraction',
    typed.spreadPercent,
  )
  const shimmed = Object.values(draft.shims).some((typed) => typed.trim() !== '')
  const engine: Engine = {
    meter_changes: [],
    ...draft.base,
    ...figures,
    ...texts,
    id,
    check_interval: reading.needed(
      '$.engine.check_interval',
      draft.figures.check_interval,
      'the interval from the manual',
    ),
    usage_unit: draft.usage_unit,
    adjustment: draft.adjustment,
    adjuster_at: draft.adjuster_at || null,
    head_material: draft.head_material || null,
    block_material: draft.block_material || null,
    decompression_side: draft.decompression_side || null,
    starting: draft.starting || null,
    firing_order: reading.numbers('$.engine.firing_order', draft.firingOrder, '1-3-4-2'),
    firing_intervals_deg: reading.numbers(
      '$.engine.firing_intervals_deg',
      draft.firingIntervals,
      '270 450',
    ),
    ...specs(draft, sides),
    compression_spec_kpa:
      compression.min === null && compression.max === null && spread === null
        ? null
        : { ...compression, max_spread_fraction: spread === null ? null : spread / 100 },
    shim_series: shimmed
      ? {
          from_mm: reading.needed('$.engine.shim_series.from_mm', draft.shims.from, 'the thinnest'),
          to_mm: reading.needed('$.engine.shim_series.to_mm', draft.shims.to, 'the thickest'),
          step_mm: reading.needed('$.engine.shim_series.step_mm', draft.shims.step, 'the step'),
          diameter_mm: reading.figure('$.engine.shim_series.diameter_mm', draft.shims.diameter),
        }
      : null,
    source: draft.source.title.trim()
      ? { title: draft.source.title.trim(), page: draft.source.page.trim() || null }
      : null,
    stations: stations(reading, draft.stations),
    thread:
      draft.thread.hand || draft.thread.locks
        ? { hand: draft.thread.hand || 'right', locks: draft.thread.locks || 'outer' }
        : null,
    hydraulic: Object.values(draft.hydraulic).some((one) => one.trim() !== '')
      ? {
          preload_turns: reading.figure('$.engine.hydraulic.preload_turns', draft.hydraulic.turns),
          plunger_stroke_mm: reading.figure(
            '$.engine.hydraulic.plunger_stroke_mm',
            draft.hydraulic.stroke,
          ),
        }
      : null,
    torque: torques(reading, draft.torque),
    layout: {
      ...draft.base.layout,
      kind: head.kind,
      banks: banksOf(draft).length > 1 ? banksOf(draft) : null,
      front: head.front,
      intake_side: head.stand === 'along' ? null : head.stand,
    },
    valves: draft.valves.map((valve, index) => ({
      id: valve.id,
      cylinder: valve.cylinder,
      side: valve.side,
      place: valve.place,
      shim_mm: reading.shim(`$.engine.valves[${index}].shim_mm`, valve.shim),
      shares_rocker_with: valve.sharesWith.split(/[\s,]+/).filter(Boolean),
      spec: valve.spec ? reading.spec(`$.engine.valves[${index}].spec`, valve.spec, unit) : null,
    })),
  }
  return { engine, faults: reading.faults, unitDoubt: reading.unitDoubt }
}

/** The cylinders of each bank as numbers; what is no number is left to the server to refuse. */
export function banksOf({ head }: EngineDraft): number[][] {
  return head.banks.map((bank) =>
    bank
      .split(/[\s,-]+/)
      .filter(Boolean)
      .map(Number),
  )
}

/** A name that addresses can carry, from the engine's own; a number tells it from one that is there. */
export function idFor(name: string, taken: string[]): string {
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60)
  const base = plain || 'engine'
  let id = base
  for (let number = 2; taken.includes(id); number += 1) id = `${base}-${number}`
  return id
}
