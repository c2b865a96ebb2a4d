import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { GaugeUnits } from '@/design/pressure'
import { api, unwrap, type ShopSettings } from '@/api/client'
import { shopSettingsQuery } from '@/api/queries'

/** The units in which this workshop reads its gauges; kPa until they are known. */
export function useGaugeUnits(): GaugeUnits {
  const { data } = useQuery(shopSettingsQuery)
  return { pressure: data?.pressure_unit ?? 'kPa', vacuum: data?.vacuum_unit ?? 'kPa' }
}

/** Keep another unit, for every page. */
export function useKeepGaugeUnits() {
  const queryClient = useQueryClient()
  const { queryKey } = shopSettingsQuery
  return useMutation({
    mutationFn: async (part: Partial<Pick<ShopSettings, 'pressure_unit' | 'vacuum_unit'>>) => {
      const now = await queryClient.fetchQuery(shopSettingsQuery)
      return unwrap(api.PUT('/api/shop-settings', { body: { ...now, ...part } }))
    },
    onMutate: (part) =>
      queryClient.setQueryData(
        queryKey,
        (now: ShopSettings | undefined) => now && { ...now, ...part },
      ),
    onSuccess: (kept) => queryClient.setQueryData(queryKey, kept),
    onError: () => queryClient.invalidateQueries({ queryKey }),
  })
}
