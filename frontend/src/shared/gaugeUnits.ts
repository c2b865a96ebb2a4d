import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { GaugeUnits } from '@/design/pressure'
import { api, unwrap, type WorkshopSettings } from '@/api/client'
import { workshopSettingsQuery } from '@/api/queries'

/** The units in which this workshop reads its gauges; kPa until they are known. */
export function useGaugeUnits(): GaugeUnits {
  const { data } = useQuery(workshopSettingsQuery)
  return { pressure: data?.pressure_unit ?? 'kPa', vacuum: data?.vacuum_unit ?? 'kPa' }
}

/** Keep another unit, for every page. */
export function useKeepGaugeUnits() {
  const queryClient = useQueryClient()
  const { queryKey } = workshopSettingsQuery
  return useMutation({
    mutationFn: async (part: Partial<Pick<WorkshopSettings, 'pressure_unit' | 'vacuum_unit'>>) => {
      const now = await queryClient.fetchQuery(workshopSettingsQuery)
      return unwrap(api.PUT('/api/workshop-settings', { body: { ...now, ...part } }))
    },
    onMutate: (part) =>
      queryClient.setQueryData(
        queryKey,
        (now: WorkshopSettings | undefined) => now && { ...now, ...part },
      ),
    onSuccess: (kept) => queryClient.setQueryData(queryKey, kept),
    onError: () => queryClient.invalidateQueries({ queryKey }),
  })
}
