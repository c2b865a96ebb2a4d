import { t } from '@lingui/core/macro'
import type { StepName } from '@/api/addresses'

export const STEP_LABELS: Record<StepName, string> = {
  complaint: t`Complaint`,
  prepare: t`Prepare`,
  inspect: t`Inspect`,
  position: t`Position`,
  measure: t`Measure`,
  assess: t`Assess`,
  adjust: t`Adjust`,
  verify: t`Verify`,
}
