import type { Engine, PlacedValve, Valve } from '@/api/client'
import type { LengthUnit } from '@/design/format'
import { pressureFigure, type PressureUnit } from '@/design/pressure'
import { torqueLines } from './torque'

/** An engine while it is being described: what was typed, as it was typed. */

export const FIGURE_KEYS = [
  'check_interval',
  'rocker_ratio',
  'adjuster_pitch_mm',
  'stroke_mm',
  'rod_length_mm',
  'reference_temperature_c',
  'check_below_temperature_c',
  'valve_length_mm',
  'pushrod_length_mm',
  'decompression_lift_mm',
  'bump_release_travel_mm',
  'access_minutes',
  'year',
  'displacement_cc',
] as const
export type FigureKey = (typeof FIGURE_KEYS)[number]

export const TEXT_KEYS = [
  'name',
  'kind',
  'make',
  'model',
  'variant',
  'serial_number',
  'plate',
  'fuel',
  'duty',
  'lobe_position',
] as const
export type TextKey = (typeof TEXT_KEYS)[number]

/** A range, or a single figure (in `min`) with the tolerance that it has either way. */
export type SpecDraft = { single: boolean; min: string; max: string; tolerance: string }
export const NO_SPEC: SpecDraft = { single: false, min: '', max: '', tolerance: '' }
/** What a single figure without a tolerance is taken to allow either way, mm. */
export const ASSUMED_TOLERANCE_MM = 0.025

/** A spec with the unit behind every figure that has none: then another unit of the form changes none. */
export function withUnit(spec: SpecDraft, unit: LengthUnit): SpecDraft {
  const named = (typed: string) =>
    /^[\d.,]+$/.test(typed.trim()) ? `${typed.trim()} ${unit}` : typed
  return {
    ...spec,
    min: named(spec.min),
    max: named(spec.max),
    tolerance: named(spec.tolerance),
  }
}

export type Kind = 'in-line' | 'v' | 'flat'
/** Where the intakes stand, or that all valves stand in one line along the head. */
export type Stand = 'left' | 'right' | 'inside' | 'outside' | 'along'

/** What the valves of the head follow from. */
export type HeadDraft = {
  kind: Kind
  /** The cylinders of each bank from the front, as typed: '1 2 3 4'. */
  banks: string[]
  intakes: number
  exhausts: number
  stand: Stand
  /** For each bank: 'E I I E'. */
  along: string[]
  front: 'left' | 'right'
}

export type ValveDraft = {
  id: string
  cylinder: number
  side: Valve['side']
  place: number | null
  shim: string
  sharesWith: string
  /** The valve's own spec, where the manual gives it another than its side. */
  spec: SpecDraft | null
}

/** What the form asks for. */
export type EngineValues = {
  texts: Record<TextKey, string>
  figures: Record<FigureKey, string>
  usage_unit: Engine['usage_unit']
  adjustment: Engine['adjustment']
  adjuster_at: NonNullable<Engine['adjuster_at']> | ''
  head_material: NonNullable<Engine['head_material']> | ''
  block_material: NonNullable<Engine['block_material']> | ''
  /** The valve that the bump of the compression release lifts. */
  decompression_side: NonNullable<Engine['decompression_side']> | ''
  starting: NonNullable<Engine['starting']> | ''
  head: HeadDraft
  valves: ValveDraft[]
  /** How the manual prints the spec. */
  unit: LengthUnit
  intake: SpecDraft
  exhaust: SpecDraft
  /** From which day on a changed spec holds; empty: it always did. */
  specFrom: string
  firingOrder: string
  firingIntervals: string
  compression: { min: string; max: string; spreadPercent: string; unit: PressureUnit }
  shims: { from: string; to: string; step: string; diameter: string }
  thread: { hand: NonNullable<Engine['thread']>['hand'] | ''; locks: 'outer' | 'inner' | '' }
  hydraulic: { turns: string; stroke: string }
  /** A line a part: 'cover | 5 10 | crosswise', in N m or in in-lb. */
  torque: string
  source: { title: string; page: string }
  /** The manual's own crank table, a line a position: '0 | mark T | 1I 1E'. */
  stations: string
}

/** What the form does not ask for is kept as it is. */
export type EngineDraft = { base: Partial<Engine>; values: EngineValues }

type Spec = NonNullable<Valve['spec']>
type Entered = { min?: string; max?: string; tolerance?: string; unit?: LengthUnit }

/** A pressure of the record as the form shows it. */
export function pressureText(kpa: number | null | undefined, unit: PressureUnit): string {
  return kpa == null ? '' : text(pressureFigure(kpa, unit))
}

function enteredOf(spec: Spec | null | undefined): Entered {
  const entered = spec?.entered
  return typeof entered === 'object' && entered !== null && !Array.isArray(entered)
    ? (entered as Entered)
    : {}
}

function text(value: number | null | undefined): string {
  return value == null ? '' : String(value)
}

function specDraft(spec: Spec): SpecDraft {
  const { min, max, tolerance } = enteredOf(spec)
  if (spec.figure_mm == null) {
    return {
      single: false,
      min: min ?? text(spec.min_mm),
      max: max ?? text(spec.max_mm),
      tolerance: '',
    }
  }
  const half = spec.max_mm == null ? null : Number((spec.max_mm - spec.figure_mm).toFixed(4))
  return {
    single: true,
    min: min ?? text(spec.figure_mm),
    max: '',
    tolerance: half === null ? '' : (tolerance ?? text(half)),
  }
}

/** The spec that holds now: the last change, else the engine's own. */
function latestSpec(engine: Engine): Engine['spec'] {
  const changes = [...(engine.spec_changes ?? [])].sort((a, b) => a.date.localeCompare(b.date))
  return changes.at(-1)?.spec ?? engine.spec
}

function banksOf(engine: Engine): string[] {
  const cylinders = [...new Set(engine.valves.map((valve) => valve.cylinder))].sort((a, b) => a - b)
  const { kind = 'in-line', banks } = engine.layout ?? {}
  if (banks && banks.length > 0) return banks.map((bank) => bank.join(' '))
  return kind === 'in-line' ? [cylinders.join(' ')] : halves(cylinders)
}

/** Odd and even places, as cylinders in a V are most often numbered. */
export function halves(cylinders: number[]): string[] {
  return [0, 1].map((odd) => cylinders.filter((_, index) => index % 2 === odd).join(' '))
}

function headOf(engine: Engine): HeadDraft {
  const { kind = 'in-line', front, intake_side } = engine.layout ?? {}
  const banks = banksOf(engine)
  const first = engine.valves[0]?.cylinder
  const count = (side: Valve['side']) =>
    engine.valves.filter((valve) => valve.cylinder === first && valve.side === side).length || 1
  const along = banks.map((bank) =>
    bank
      .split(' ')
      .flatMap((cylinder) =>
        engine.valves
          .filter((valve) => valve.cylinder === Number(cylinder))
          .sort((a, b) => (a.place ?? 0) - (b.place ?? 0))
          .map((valve) => (valve.side === 'intake' ? 'I' : 'E')),
      )
      .join(' '),
  )
  const stands = ['left', 'right', 'inside', 'outside'] as const
  return {
    kind,
    banks,
    intakes: count('intake'),
    exhausts: count('exhaust'),
    stand: stands.find((one) => one === intake_side) ?? 'along',
    along,
    front: front ?? 'left',
  }
}

/** The draft of an engine as it is recorded, its compression in the unit of the workshop's gauges. */
export function draftOf(engine: Engine, pressure: PressureUnit): EngineDraft {
  const spec = latestSpec(engine)
  const { compression_spec_kpa: kpa, shim_series: shims, source } = engine
  const values: EngineValues = {
    texts: Object.fromEntries(TEXT_KEYS.map((key) => [key, engine[key] ?? ''])) as Record<
      TextKey,
      string
    >,
    figures: Object.fromEntries(FIGURE_KEYS.map((key) => [key, text(engine[key])])) as Record<
      FigureKey,
      string
    >,
    usage_unit: engine.usage_unit,
    adjustment: engine.adjustment,
    adjuster_at: engine.adjuster_at ?? '',
    head_material: engine.head_material ?? '',
    block_material: engine.block_material ?? '',
    decompression_side: engine.decompression_side ?? '',
    starting: engine.starting ?? '',
    head: headOf(engine),
    valves: engine.valves.map((valve) => ({
      id: valve.id,
      cylinder: valve.cylinder,
      side: valve.side,
      place: valve.place ?? null,
      shim: text(valve.shim_mm),
      sharesWith: (valve.shares_rocker_with ?? []).join(' '),
      spec: valve.spec ? specDraft(valve.spec) : null,
    })),
    unit: enteredOf(spec.intake).unit ?? 'mm',
    intake: specDraft(spec.intake),
    exhaust: specDraft(spec.exhaust),
    specFrom: '',
    firingOrder: (engine.firing_order ?? []).join('-'),
    firingIntervals: (engine.firing_intervals_deg ?? []).join(' '),
    compression: {
      unit: pressure,
      min: pressureText(kpa?.min, pressure),
      max: pressureText(kpa?.max, pressure),
      spreadPercent: kpa?.max_spread_fraction == null ? '' : text(kpa.max_spread_fraction * 100),
    },
    shims: {
      from: text(shims?.from_mm),
      to: text(shims?.to_mm),
      step: text(shims?.step_mm),
      diameter: text(shims?.diameter_mm),
    },
    thread: { hand: engine.thread?.hand ?? '', locks: engine.thread?.locks ?? '' },
    hydraulic: {
      turns: text(engine.hydraulic?.preload_turns),
      stroke: text(engine.hydraulic?.plunger_stroke_mm),
    },
    torque: torqueLines(engine.torque ?? []),
    source: { title: source?.title ?? '', page: source?.page ?? '' },
    stations: (engine.stations ?? [])
      .map((one) => [text(one.crank_deg), one.mark ?? '', one.valves.join(' ')].join(' | '))
      .join('\n'),
  }
  return { base: engine, values }
}

/** A draft for another engine like this one: its own name and history are left behind. */
export function copyOf(engine: Engine, pressure: PressureUnit): EngineDraft {
  const own = {
    id: '',
    meter_changes: [],
    usage_readings: [],
    spec_changes: [],
    spec: latestSpec(engine),
    left_out_of_kind: null,
    archived: null,
  }
  const { base, values } = draftOf({ ...engine, ...own }, pressure)
  const texts = { ...values.texts, name: '', serial_number: '', plate: '' }
  return { base, values: { ...values, texts } }
}

/** The valves as the head is described now; what was noted of those that stay is kept. */
export function placedValves(valves: ValveDraft[], placed: PlacedValve[]): ValveDraft[] {
  const known = new Map(valves.map((valve) => [valve.id, valve]))
  return placed.map((valve) => ({
    shim: '',
    sharesWith: '',
    spec: null,
    ...known.get(valve.id),
    ...valve,
  }))
}
