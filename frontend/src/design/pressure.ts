export const PRESSURE_UNITS = ['kPa', 'psi', 'bar'] as const
export type PressureUnit = (typeof PRESSURE_UNITS)[number]

const KPA: Record<PressureUnit, number> = { kPa: 1, psi: 6.894757, bar: 100 }
const DECIMALS: Record<PressureUnit, number> = { kPa: 0, psi: 0, bar: 1 }

/** A pressure as it is read off a gauge of that unit. */
export function pressureFigure(kpa: number, unit: PressureUnit): number {
  return Number((kpa / KPA[unit]).toFixed(DECIMALS[unit]))
}

export function toKpa(figure: number, unit: PressureUnit): number {
  return figure * KPA[unit]
}
