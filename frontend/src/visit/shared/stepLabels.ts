import type { StepName } from '@/api/addresses'

export const STEP_LABELS: Record<StepName, string> = {
  complaint: 'Complaint',
  prepare: 'Prepare',
  inspect: 'Inspect',
  position: 'Position',
  measure: 'Measure',
  assess: 'Assess',
  adjust: 'Adjust',
  verify: 'Verify',
}
