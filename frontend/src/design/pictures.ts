import { t } from '@lingui/core/macro'

export const PICTURE_TYPES = 'image/jpeg,image/png,image/webp'
const LARGEST_BYTES = 20_000_000

/** Why a photograph is too large, told before it is sent: it would be refused half-way. */
export function pictureFault(file: File): Error | undefined {
  if (file.size <= LARGEST_BYTES) return undefined
  const megabytes = Math.round(file.size / 1e6)
  return new Error(t`${file.name} has ${megabytes} MB; the limit is 20 MB: choose a smaller copy`)
}
