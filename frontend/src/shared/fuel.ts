import type { Engine, FirstLook } from '@/api/client'

/** Whether an engine needs no spark to fire. */
export function isDiesel(engine: Engine): boolean {
  return engine.fuel?.trim().toLowerCase() === 'diesel'
}

/** Whether an engine has what is to be looked at: a plug, a battery. */
export function hasWhatIsLookedAt(engine: Engine, look: FirstLook): boolean {
  if (isDiesel(engine) && look.not_with_fuel.includes('diesel')) return false
  if (engine.starting && look.not_with_starting.includes(engine.starting)) return false
  if (look.only_with_starting.length === 0) return true
  return engine.starting != null && look.only_with_starting.includes(engine.starting)
}
