import { t } from '@lingui/core/macro'
import { z } from '@/design/z'
import type { Engine, Torque, Valve } from '@/api/client'
import { MM_PER_THOU, type LengthUnit, fixed } from '@/design/format'
import { toKpa } from '@/design/pressure'
import { typedFigure } from '@/design/typedFigure'
import { lengthFault, typedLengthMm, typedShimMm } from '@/design/typedLength'
import {
  FIGURE_KEYS,
  pressureText,
  TEXT_KEYS,
  type EngineDraft,
  type EngineValues,
  type FigureKey,
  type HeadDraft,
  type SpecDraft,
  type TextKey,
} from './draft'
import { readTorque } from './torque'

/** From what was typed to the engine as the record writes it; what is wrong is told at its field. */

/** The server asks about what is odd up to here; what lies beyond cannot be meant. */
const WIDEST_SPEC_MM = 10

type Spec = NonNullable<Valve['spec']>
type Context = z.RefinementCtx

/** An issue that goes away with the other unit says so. */
const OTHER_UNIT_WOULD_DO = { otherUnitWouldDo: true }

function isBlank(typed: string): boolean {
  return typed.trim() === ''
}

/** A figure, or null where nothing was typed. */
const figure = z.string().transform((typed, context) => {
  if (isBlank(typed)) return null
  const value = typedFigure(typed)
  if (value !== null) return value
  context.addIssue({ code: 'custom', message: t`‘${typed}’ is not a number such as 1.5` })
  return z.NEVER
})

/** A figure that must be there; without one the engine could not be sent. */
function needed(what: string) {
  return figure.transform((value, context) => {
    if (value !== null) return value
    context.addIssue({ code: 'custom', message: t`needs ${what}` })
    return z.NEVER
  })
}

/** A shim, as it measures or as it is printed. */
const shim = z.string().transform((typed, context) => {
  if (isBlank(typed)) return null
  const value = typedShimMm(typed)
  if (value !== undefined) return value
  const message = t`‘${typed}’ is not a shim size such as 2.15, or 215 as marked`
  context.addIssue({ code: 'custom', message })
  return z.NEVER
})

function numbers(example: string) {
  return z.string().transform((typed, context) => {
    const parts = typed.split(/[\s,;-]+/).filter(Boolean)
    if (parts.length === 0) return null
    const read = parts.map(Number)
    if (!read.some(Number.isNaN)) return read
    context.addIssue({ code: 'custom', message: t`‘${typed}’ must be numbers such as ${example}` })
    return z.NEVER
  })
}

const ids = z.string().transform((typed) => typed.split(/[\s,]+/).filter(Boolean))
const filled = z.string().transform((typed) => typed.trim() || null)

/** A length of a spec, mm; a bare figure that makes sense in either unit, or in neither, is told. */
function lengthMm(typed: string, unit: LengthUnit, at: keyof SpecDraft, context: Context) {
  if (isBlank(typed)) return null
  const value = typedLengthMm(typed, unit)
  if (value !== undefined && value <= WIDEST_SPEC_MM) return value
  const wrong = lengthFault(typed, unit)
  const inOther = fixed((value ?? 0) * MM_PER_THOU, 3)
  context.addIssue({
    code: 'custom',
    path: [at],
    message:
      value === undefined
        ? (wrong ?? t`enter a length`)
        : t`is ${value} mm, far more than any clearance; ${value} thou is ${inOther} mm`,
    ...(value !== undefined || wrong?.includes('Add the unit')
      ? { params: OTHER_UNIT_WOULD_DO }
      : {}),
  })
  return null
}

/** A single figure, by itself or with its tolerance either way. */
function single({ min, tolerance }: SpecDraft, unit: LengthUnit, context: Context): Spec {
  const figure_mm = lengthMm(min, unit, 'min', context)
  const half = lengthMm(tolerance, unit, 'tolerance', context)
  const entered = { min: min.trim(), tolerance: tolerance.trim() || undefined, unit }
  if (figure_mm === null) return { min_mm: null, max_mm: null, figure_mm, entered: null }
  if (half === null) return { min_mm: null, max_mm: null, figure_mm, entered }
  if (half <= 0 || half >= figure_mm) {
    const message = t`must be over 0 and less than the figure itself, ${min.trim()}`
    context.addIssue({ code: 'custom', path: ['tolerance'], message })
  }
  const limit = (mm: number) => Math.round(mm * 10_000) / 10_000
  return { min_mm: limit(figure_mm - half), max_mm: limit(figure_mm + half), figure_mm, entered }
}

const HALF_A_RANGE = t`a range needs both figures; for one figure tick “a single figure”`

/** What is wrong with the second of two figures that go from small to large; they may be alike if it says so. */
function wrongOrder(from: number | null, to: number | null, mayBeAlike = false) {
  if (from === null || to === null || from < to || (mayBeAlike && from === to)) return undefined
  return t`must be more than the figure before it`
}

/** A range or a single figure, as the manual prints it. */
export function specIn(unit: LengthUnit, { isNeeded = false } = {}) {
  const typed = z.object({
    single: z.boolean(),
    min: z.string(),
    max: z.string(),
    tolerance: z.string(),
  })
  return typed.transform((spec, context): Spec => {
    if (isNeeded && isBlank(spec.min) && (spec.single || isBlank(spec.max))) {
      const message = t`enter the clearance from the manual`
      context.addIssue({ code: 'custom', path: ['min'], message })
    }
    if (spec.single) return single(spec, unit, context)
    const min_mm = lengthMm(spec.min, unit, 'min', context)
    const max_mm = lengthMm(spec.max, unit, 'max', context)
    const end = isBlank(spec.min) ? 'min' : 'max'
    const wrong =
      isBlank(spec.min) === isBlank(spec.max) ? wrongOrder(min_mm, max_mm) : HALF_A_RANGE
    if (wrong) context.addIssue({ code: 'custom', path: [end], message: wrong })
    const none = min_mm === null && max_mm === null
    const entered = { min: spec.min.trim(), max: spec.max.trim(), unit }
    return { min_mm, max_mm, figure_mm: null, entered: none ? null : entered }
  })
}

/** Lines of text, each read by itself; the first that cannot be read is told. */
function lines<Read>(read: (line: string) => Read | { fault: string }) {
  return z.string().transform((typed, context): Read[] | null => {
    const found = typed
      .split('\n')
      .filter((line) => !isBlank(line))
      .map(read)
    for (const one of found) {
      if (typeof one !== 'object' || one === null || !('fault' in one)) continue
      context.addIssue({ code: 'custom', message: String(one.fault) })
      return z.NEVER
    }
    return found.length === 0 ? null : (found as Read[])
  })
}

type Station = NonNullable<Engine['stations']>[number]

function readStation(line: string): Station | { fault: string } {
  const [typed = '', mark = '', valves = ''] = line.split('|').map((part) => part.trim())
  const crank_deg = typedFigure(typed)
  if (crank_deg === null)
    return { fault: t`‘${line.trim()}’ needs degrees first, as in 0 | mark T | 1I 1E` }
  return { crank_deg, mark: mark || null, valves: valves.split(/[\s,]+/).filter(Boolean) }
}

/** A pressure, kPa; what was not typed anew is not rounded to the unit that it is shown in. */
function pressure(unit: EngineValues['compression']['unit'], kept: number | null | undefined) {
  return z.string().transform((typed, context) => {
    if (kept != null && typed === pressureText(kept, unit)) return kept
    const read = figure.safeParse(typed)
    if (read.success) return read.data === null ? null : Number(toKpa(read.data, unit).toFixed(2))
    context.addIssue({ code: 'custom', message: read.error.issues[0]?.message ?? t`not a number` })
    return z.NEVER
  })
}

function shims(typed: EngineValues['shims']) {
  if (Object.values(typed).every(isBlank))
    return z.custom<EngineValues['shims']>().transform(() => null)
  const series = z.object({
    from: needed(t`the thinnest`),
    to: needed(t`the thickest`),
    step: needed(t`the step`),
    diameter: figure,
  })
  return series.transform(({ from, to, step, diameter }, context) => {
    const wrong = wrongOrder(from, to, true)
    if (wrong) context.addIssue({ code: 'custom', path: ['to'], message: wrong })
    return { from_mm: from, to_mm: to, step_mm: step, diameter_mm: diameter }
  })
}

/** Each cylinder of the head once. A record may name others, whose valves nobody measures: it stays as it was. */
function firingOrder({ base, values }: EngineDraft) {
  const cylinders = [...new Set(values.valves.map((one) => one.cylinder))].sort((a, b) => a - b)
  const shown = cylinders.join('-')
  const stored = base.firing_order?.join('-')
  return numbers('1-3-4-2').refine(
    (order) =>
      order === null ||
      order.join('-') === stored ||
      [...order].sort((a, b) => a - b).join('-') === shown,
    t`must name each cylinder once: ${shown}, in the order in which they fire`,
  )
}

/** A field that is one of a few: nothing can be wrong with it. */
function chosen<Key extends keyof EngineValues>() {
  return z.custom<EngineValues[Key]>()
}

/** What each field must be, given what was typed in those that it depends on. */
function fieldsOf(draft: EngineDraft) {
  const { base, values } = draft
  const { unit, adjustment, compression, shims: typedShims } = values
  const isNeeded = adjustment !== 'hydraulic'
  const kept = base.compression_spec_kpa
  const valve = z.object({
    id: z.string(),
    cylinder: z.number(),
    side: z.enum(['intake', 'exhaust']),
    place: z.number().nullable(),
    shim,
    sharesWith: ids,
    spec: specIn(unit).nullable(),
  })
  const figures = Object.fromEntries(FIGURE_KEYS.map((key) => [key, figure])) as Record<
    FigureKey,
    typeof figure
  >
  const texts = Object.fromEntries(TEXT_KEYS.map((key) => [key, filled])) as Record<
    TextKey,
    typeof filled
  >
  return z.object({
    texts: z.object({
      ...texts,
      name: filled.refine((name) => name !== null, t`enter a name for this engine`),
    }),
    figures: z.object({ ...figures, check_interval: needed(t`the interval from the manual`) }),
    intake: specIn(unit, { isNeeded }),
    exhaust: specIn(unit, { isNeeded }),
    firingOrder: firingOrder(draft),
    firingIntervals: numbers('270 450'),
    compression: z
      .object({
        unit: z.custom<EngineValues['compression']['unit']>(),
        min: pressure(compression.unit, kept?.min),
        max: pressure(compression.unit, kept?.max),
        spreadPercent: figure,
      })
      .superRefine(({ min, max }, context) => {
        const wrong = wrongOrder(min, max, true)
        if (wrong) context.addIssue({ code: 'custom', path: ['max'], message: wrong })
      }),
    shims: shims(typedShims),
    hydraulic: z.object({ turns: figure, stroke: figure }),
    torque: lines<Torque>(readTorque),
    source: z.object({ title: filled, page: filled }),
    stations: lines<Station>(readStation),
    valves: z.array(valve),
    usage_unit: chosen<'usage_unit'>(),
    adjustment: chosen<'adjustment'>(),
    adjuster_at: chosen<'adjuster_at'>(),
    head_material: chosen<'head_material'>(),
    block_material: chosen<'block_material'>(),
    decompression_side: chosen<'decompression_side'>(),
    starting: chosen<'starting'>(),
    head: chosen<'head'>(),
    thread: chosen<'thread'>(),
    unit: chosen<'unit'>(),
    specFrom: chosen<'specFrom'>(),
  })
}

/** A spec that changed holds from a day on; one that was wrong is put right for all days. */
function specs(
  base: Partial<Engine>,
  from: string,
  spec: Engine['spec'],
): Pick<Engine, 'spec' | 'spec_changes'> {
  const changes = base.spec_changes ?? []
  const kept = base.spec ?? spec
  if (from) {
    const others = changes.filter((one) => one.date !== from)
    return { spec: kept, spec_changes: [...others, { date: from, spec }] }
  }
  const last = changes.at(-1)
  if (!last) return { spec, spec_changes: [] }
  return { spec: kept, spec_changes: [...changes.slice(0, -1), { ...last, spec }] }
}

function compressionOf(
  base: Partial<Engine>,
  {
    min,
    max,
    spreadPercent: percent,
  }: { min: number | null; max: number | null; spreadPercent: number | null },
): Engine['compression_spec_kpa'] {
  if (min === null && max === null && percent === null) return null
  const max_spread_fraction = percent === null ? null : percent / 100
  return { ...base.compression_spec_kpa, min, max, max_spread_fraction }
}

/** The schema of the form: what was typed in, the engine of the record out, all but its id. */
export function engineSchema(draft: EngineDraft): z.ZodType<Engine, EngineValues> {
  const { base } = draft
  return fieldsOf(draft).transform(
    ({
      texts,
      figures,
      intake,
      exhaust,
      compression,
      source,
      hydraulic,
      thread,
      ...read
    }): Engine => ({
      meter_changes: [],
      usage_readings: [],
      ...base,
      kit: base.kit ?? [],
      ...figures,
      ...texts,
      id: base.id ?? '',
      usage_unit: read.usage_unit,
      adjustment: read.adjustment,
      adjuster_at: read.adjuster_at || null,
      head_material: read.head_material || null,
      block_material: read.block_material || null,
      decompression_side: read.decompression_side || null,
      starting: read.starting || null,
      firing_order: read.firingOrder,
      firing_intervals_deg: read.firingIntervals,
      ...specs(base, read.specFrom, { intake, exhaust }),
      compression_spec_kpa: compressionOf(base, compression),
      shim_series: read.shims,
      source: source.title ? { title: source.title, page: source.page } : null,
      stations: read.stations,
      thread:
        thread.hand || thread.locks
          ? { hand: thread.hand || 'right', locks: thread.locks || 'outer' }
          : null,
      hydraulic: Object.values(hydraulic).every((one) => one === null)
        ? null
        : { preload_turns: hydraulic.turns, plunger_stroke_mm: hydraulic.stroke },
      torque: read.torque,
      layout: layoutOf(draft),
      valves: read.valves.map(({ shim, sharesWith, ...valve }) => ({
        ...valve,
        shim_mm: shim,
        shares_rocker_with: sharesWith,
      })),
    }),
  )
}

/** Whether something that is wrong would be right in the other unit of lengths. */
export function otherUnitWouldDo(draft: EngineDraft): boolean {
  const { error } = engineSchema(draft).safeParse(draft.values)
  return (error?.issues ?? []).some(
    (one) => one.code === 'custom' && one.params?.otherUnitWouldDo === true,
  )
}

/** How the head is drawn. */
export function layoutOf({ base, values: { head } }: EngineDraft): NonNullable<Engine['layout']> {
  const banks = banksOf(head)
  return {
    ...base.layout,
    kind: head.kind,
    banks: banks.length > 1 ? banks : null,
    front: head.front,
    intake_side: head.stand === 'along' ? null : head.stand,
  }
}

/** The cylinders of each bank as numbers; what is no number is left to the server to refuse. */
export function banksOf(head: HeadDraft): number[][] {
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
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60)
  const base = plain || 'engine'
  let id = base
  for (let number = 2; taken.includes(id); number += 1) id = `${base}-${number}`
  return id
}
