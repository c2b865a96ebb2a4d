import type { StoredTry } from '@/api/client'
import { thicknessMm } from '@/blades/bladeChoice'

/** The two answers that least go together: the thickest that went, the thinnest that did not, crosswise. */
export function worstPair(tries: StoredTry[]): [StoredTry, StoredTry] | null {
  const went = tries
    .filter((one) => one.felt !== 'no-go')
    .sort((a, b) => thicknessMm(b.blades_mm) - thicknessMm(a.blades_mm))[0]
  const refused = tries
    .filter((one) => one.felt === 'no-go')
    .sort((a, b) => thicknessMm(a.blades_mm) - thicknessMm(b.blades_mm))[0]
  if (!went || !refused) return null
  return thicknessMm(went.blades_mm) >= thicknessMm(refused.blades_mm) ? [went, refused] : null
}
