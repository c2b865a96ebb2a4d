export const PRESSURE_UNITS = ['kPa', 'psi', 'bar'] as const
export type PressureUnit = (typeof PRESSURE_UNITS)[number]
export const VACUUM_UNITS = ['kPa', 'inHg', 'mmHg'] as const
export type VacuumUnit = (typeof VACUUM_UNITS)[number]
/** In which units the workshop reads its gauges. */
export type GaugeUnits = { pressure: PressureUnit; vacuum: VacuumUnit }

type Unit = PressureUnit | VacuumUnit

const KPA: Record<Unit, number> = {
  kPa: 1,
  psi: 6.894757,
  bar: 100,
  inHg: 3.386389,
  mmHg: 0.1333224,
}
const DECIMALS: Record<Unit, number> = { kPa: 0, psi: 0, bar: 1, inHg: 1, mmHg: 0 }

/** A pressure as it is read off a gauge of that unit. */
export function pressureFigure(kpa: number, unit: Unit): number {
  return Number((kpa / KPA[unit]).toFixed(DECIMALS[unit]))
}

export function toKpa(figure: number, unit: Unit): number {
  return figure * KPA[unit]
}

/** The unit in which a figure of the record is shown: a pressure or a vacuum in the workshop's, others as they are. */
export function shownUnit(id: string, unit: string, units: GaugeUnits): string {
  // The record writes what the trade calls rpm.
  if (unit !== 'kPa') return unit === '1/min' ? 'rpm' : unit
  return id.includes('vacuum') ? units.vacuum : units.pressure
}

function isGaugeUnit(unit: string): unit is Unit {
  return unit in KPA
}

/** A figure of the record in the unit that it is shown in, and back. */
export function shownFigure(value: number, unit: string): number {
  return isGaugeUnit(unit) ? pressureFigure(value, unit) : value
}

export function storedFigure(value: number, unit: string): number {
  return isGaugeUnit(unit) ? toKpa(value, unit) : value
}

/** A sentence about pressures with its figures in another unit: '57 to 74 kPa' as '17 to 22 inHg'. */
export function pressuresIn(text: string, unit: Unit): string {
  if (unit === 'kPa') return text
  return text.replace(/(\d+(?:\.\d+)?)( to | and )?(\d+(?:\.\d+)?)? kPa/g, (_, a, between, b) => {
    const figure = (typed: string) => String(pressureFigure(Number(typed), unit))
    return `${figure(a)}${between && b ? `${between}${figure(b)}` : ''} ${unit}`
  })
}
