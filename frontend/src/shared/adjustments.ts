import type { Engine } from '@/api/client'

/** How a valve clearance is adjusted, in words. */
export const ADJUSTMENTS: { id: Engine['adjustment']; label: string }[] = [
  { id: 'screw-rocker', label: 'screw in the rocker arm' },
  { id: 'screw-pushrod', label: 'screw at the pushrod' },
  { id: 'pivot-nut', label: 'nut on the rocker arm pivot' },
  { id: 'shim-under-bucket', label: 'shim under the bucket' },
  { id: 'shim-over-bucket', label: 'shim over the bucket' },
  { id: 'hydraulic', label: 'hydraulic' },
]

export function adjustmentWords(adjustment: Engine['adjustment']): string {
  return ADJUSTMENTS.find((one) => one.id === adjustment)?.label ?? adjustment
}
