import { t } from '@lingui/core/macro'
import type { Engine } from '@/api/client'

/** How a valve clearance is adjusted, in words. */
export const ADJUSTMENTS: { id: Engine['adjustment']; label: string }[] = [
  { id: 'screw-rocker', label: t`screw in the rocker arm` },
  { id: 'screw-pushrod', label: t`screw at the pushrod` },
  { id: 'pivot-nut', label: t`nut on the rocker arm pivot` },
  { id: 'shim-under-bucket', label: t`shim under the bucket` },
  { id: 'shim-over-bucket', label: t`shim over the bucket` },
  { id: 'hydraulic', label: t`hydraulic` },
]

export function adjustmentWords(adjustment: string): string {
  return ADJUSTMENTS.find((one) => one.id === adjustment)?.label ?? adjustment
}
