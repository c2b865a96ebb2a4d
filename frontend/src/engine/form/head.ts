import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { api, unwrap } from '@/api/client'
import type { SpecRange } from '@/head-plan/gap'
import { banksOf, buildEngine } from './build'
import type { EngineDraft } from './draft'

/** The valves of the head as it is described, asked of the server as it is typed. */
export function useHead(draft: EngineDraft, touched: boolean) {
  const { head } = draft
  const body = {
    banks: banksOf(draft).map((bank) => bank.map((one) => (Number.isInteger(one) ? one : 0))),
    intakes: head.intakes,
    exhausts: head.exhausts,
    along: head.stand === 'along' ? head.along : null,
  }
  return useQuery({
    queryKey: ['heads', body],
    queryFn: () => unwrap(api.POST('/api/heads', { body })),
    enabled: touched,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  })
}

/** The spec of each valve for drawing; a range that is not whole yet is not drawn. */
export function specsFor(draft: EngineDraft): Record<string, SpecRange | null> {
  const { engine } = buildEngine(draft, 'draft')
  const latest = engine.spec_changes?.at(-1)?.spec ?? engine.spec
  return Object.fromEntries(
    engine.valves.map((valve) => {
      const { min_mm: min, max_mm: max, figure_mm: figure } = valve.spec ?? latest[valve.side]
      if (min != null && max != null && min < max) return [valve.id, { min_mm: min, max_mm: max }]
      // A single figure is drawn a tenth either way: a mark on the plan, not a assessment.
      if (figure != null) return [valve.id, { min_mm: 0.9 * figure, max_mm: 1.1 * figure }]
      return [valve.id, null]
    }),
  )
}
