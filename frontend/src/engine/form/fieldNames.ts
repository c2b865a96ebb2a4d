import { FIGURE_KEYS, TEXT_KEYS } from './draft'

/** Which field of the form shows what the server says of a part of the record. */

const OF_SPEC: Record<string, string> = {
  min_mm: 'min',
  figure_mm: 'min',
  max_mm: 'max',
  tolerance: 'tolerance',
}
const OF_VALVE: Record<string, string> = { shim_mm: 'shim', shares_rocker_with: 'sharesWith' }
const NAMES: Record<string, string> = {
  firing_order: 'firingOrder',
  firing_intervals_deg: 'firingIntervals',
  spec_changes: 'specFrom',
  'compression_spec_kpa.min': 'compression.min',
  'compression_spec_kpa.max': 'compression.max',
  'compression_spec_kpa.max_spread_fraction': 'compression.spreadPercent',
  'shim_series.from_mm': 'shims.from',
  'shim_series.to_mm': 'shims.to',
  'shim_series.step_mm': 'shims.step',
  'shim_series.diameter_mm': 'shims.diameter',
  'hydraulic.preload_turns': 'hydraulic.turns',
  'hydraulic.plunger_stroke_mm': 'hydraulic.stroke',
  torque: 'torque',
  stations: 'stations',
  ...Object.fromEntries(FIGURE_KEYS.map((key) => [key, `figures.${key}`])),
  ...Object.fromEntries(TEXT_KEYS.map((key) => [key, `texts.${key}`])),
}

function specField(spec: string, figure: string | undefined): string {
  return figure === undefined ? spec : `${spec}.${OF_SPEC[figure] ?? 'min'}`
}

/** The form's name for a path of the record such as $.engine.spec.intake.min_mm; undefined: no field has it. */
export function fieldOf(path: string): string | undefined {
  const part = path.replace(/^\$\.engine\./, '')
  const spec = /^spec\.(intake|exhaust)(?:\.(\w+))?$/.exec(part)
  if (spec?.[1]) return specField(spec[1], spec[2])
  const valve = /^valves\[(\d+)\]\.(\w+)(?:\.(\w+))?/.exec(part)
  if (valve?.[2]) {
    const of = `valves.${valve[1]}`
    if (valve[2] === 'spec') return specField(`${of}.spec`, valve[3])
    return OF_VALVE[valve[2]] && `${of}.${OF_VALVE[valve[2]]}`
  }
  // A fault within a line, or at one of several figures, is shown at the field that holds them all.
  return NAMES[part] ?? NAMES[part.replace(/\[.*$/, '')]
}
