import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { api, unwrap } from '@/api/client'
import type { SpecRange } from '@/head-plan/gap'
import type { EngineDraft, HeadDraft, SpecDraft } from './draft'
import { banksOf, specIn } from './schema'

/** The valves of the head as it is described, asked of the server as it is typed. */
export function useHead(head: HeadDraft, touched: boolean) {
  const body = {
    banks: banksOf(head).map((bank) => bank.map((one) => (Number.isInteger(one) ? one : 0))),
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
export function specsFor({ values }: EngineDraft): Record<string, SpecRange | null> {
  const drawn = (typed: SpecDraft): SpecRange | null => {
    const {
      min_mm: min,
      max_mm: max,
      figure_mm: figure,
    } = specIn(values.unit).safeParse(typed).data ?? {}
    if (min != null && max != null && min < max) return { min_mm: min, max_mm: max }
    // A single figure is drawn a tenth either way: a mark on the plan, not an assessment.
    return figure == null ? null : { min_mm: 0.9 * figure, max_mm: 1.1 * figure }
  }
  return Object.fromEntries(
    values.valves.map((valve) => [valve.id, drawn(valve.spec ?? values[valve.side])]),
  )
}
