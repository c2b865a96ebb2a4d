import type { Progress } from '@/api/client'

/** How far the work of a visit is, in words. */
export const WORK_STATES: Record<Progress['state'], string> = {
  open: 'work open',
  waiting: 'waiting for parts',
  ready: 'ready to continue',
  done: 'work done',
}
