/**
 * Which blade is in the hand: a pure reducer. The advised blade comes to hand when its advice arrives; where
 * none can come, the next thicker or thinner leaf does, as in walking a set until the gap is bracketed. What
 * is stacked by hand stays stacked until let go.
 */

export type Felt = 'no-go' | 'drag' | 'free' | 'go'
export type Tried = { blades_mm: number[]; felt: Felt }

export type BladeChoice = {
  /** Thicknesses of the set, thinnest first, mm. */
  bladesMm: number[]
  /** Index of the leaf in the hand. */
  at: number
  /** Leaves already held, on which the one in the hand is laid. */
  stacked: number[]
  /** Blades that were typed and are none of the set's; in the hand until another is chosen. */
  typed: number[] | null
}

export type BladeAction =
  | { type: 'valve'; bladesMm: number[]; startMm: number; tried: Tried[] }
  | { type: 'step'; by: 1 | -1 }
  | { type: 'choose'; at: number }
  | { type: 'stack' }
  | { type: 'unstack' }
  | { type: 'typed'; bladesMm: number[] }
  | { type: 'advised'; bladesMm: number[] }
  | { type: 'unadvised'; felt: Felt; tried: Tried[] }

export function thicknessMm(blades: number[]): number {
  return blades.reduce((sum, blade) => sum + blade, 0)
}

export function inHand(choice: BladeChoice): number[] {
  if (choice.typed) return choice.typed
  const leaf = choice.bladesMm[choice.at]
  return leaf === undefined ? choice.stacked : [...choice.stacked, leaf]
}

function clampIndex(index: number, bladesMm: number[]): number {
  return Math.max(0, Math.min(bladesMm.length - 1, index))
}

/** The leaf nearest a thickness. */
export function nearest(bladesMm: number[], mm: number): number {
  return bladesMm.reduce(
    (best, blade, index) =>
      Math.abs(blade - mm) < Math.abs((bladesMm[best] ?? Infinity) - mm) ? index : best,
    0,
  )
}

// A print and its thickness may differ by rounding; two blades of a set never lie so near.
const SAME_MM = 0.004

/** Where a blade stands in the set; -1 where the set has none of that thickness. */
export function placeOf(bladesMm: number[], mm: number): number {
  const at = nearest(bladesMm, mm)
  return Math.abs((bladesMm[at] ?? Infinity) - mm) < SAME_MM ? at : -1
}

/** What each single leaf felt like when it was last tried, by index. */
export function feltAt(bladesMm: number[], tried: Tried[]): Map<number, Felt> {
  const felt = new Map<number, Felt>()
  for (const one of tried) {
    if (one.blades_mm.length !== 1) continue
    const at = placeOf(bladesMm, one.blades_mm[0] ?? 0)
    if (at >= 0) felt.set(at, one.felt)
  }
  return felt
}

/** One leaf thicker after it went in, thinner after it did not; stays where that was tried already. */
function afterAnswer(choice: BladeChoice, felt: Felt, tried: Tried[]): number {
  const next = clampIndex(choice.at + (felt === 'no-go' ? -1 : 1), choice.bladesMm)
  return feltAt(choice.bladesMm, tried).has(next) ? choice.at : next
}

/** Where to begin at a valve: where its tries left off, else nearest the middle of its spec. */
function startAt(bladesMm: number[], startMm: number, tried: Tried[]): number {
  const last = tried.filter((one) => one.blades_mm.length === 1).at(-1)
  if (!last) return nearest(bladesMm, startMm)
  const at = nearest(bladesMm, last.blades_mm[0] ?? startMm)
  return afterAnswer({ bladesMm, at, stacked: [], typed: null }, last.felt, tried)
}

/** What was typed is drawn out of the set where the set has it, and is a blade of its own where not. */
function typed(choice: BladeChoice, bladesMm: number[]): BladeChoice {
  const places = bladesMm.map((blade) => placeOf(choice.bladesMm, blade))
  const top = places.at(-1)
  if (top === undefined || places.length > 2 || places.some((place) => place < 0)) {
    return { ...choice, typed: bladesMm }
  }
  return {
    ...choice,
    typed: null,
    stacked: places.slice(0, -1).map((place) => choice.bladesMm[place] ?? 0),
    at: top,
  }
}

export function bladeChoice(choice: BladeChoice, action: BladeAction): BladeChoice {
  switch (action.type) {
    case 'valve':
      return {
        bladesMm: action.bladesMm,
        at: startAt(action.bladesMm, action.startMm, action.tried),
        stacked: [],
        typed: null,
      }
    case 'step':
      return { ...choice, typed: null, at: clampIndex(choice.at + action.by, choice.bladesMm) }
    case 'choose':
      return { ...choice, typed: null, at: clampIndex(action.at, choice.bladesMm) }
    case 'stack': {
      const leaf = choice.bladesMm[choice.at]
      // Two leaves fill every gap of a set; more only add scatter.
      if (leaf === undefined || choice.stacked.length > 0) return choice
      return { ...choice, typed: null, stacked: [leaf], at: 0 }
    }
    case 'unstack':
      return {
        ...choice,
        at: nearest(choice.bladesMm, choice.stacked[0] ?? choice.bladesMm[choice.at] ?? 0),
        stacked: [],
        typed: null,
      }
    case 'typed':
      return typed(choice, action.bladesMm)
    case 'advised': {
      const [last, ...under] = [...action.bladesMm].reverse()
      if (last === undefined) return choice
      return {
        ...choice,
        typed: null,
        stacked: under.reverse(),
        at: nearest(choice.bladesMm, last),
      }
    }
    case 'unadvised':
      if (choice.typed) return { ...choice, typed: null }
      if (choice.stacked.length > 0) {
        return {
          ...choice,
          at: clampIndex(choice.at + (action.felt === 'no-go' ? -1 : 1), choice.bladesMm),
        }
      }
      return { ...choice, at: afterAnswer(choice, action.felt, action.tried) }
  }
}
