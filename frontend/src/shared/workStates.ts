import { t } from '@lingui/core/macro'
import type { Progress } from '@/api/client'

/** How far the work of a visit is, in words. */
export const WORK_STATES: Record<Progress['state'], string> = {
  open: t`work open`,
  waiting: t`waiting for parts`,
  ready: t`ready to continue`,
  done: t`work done`,
}
