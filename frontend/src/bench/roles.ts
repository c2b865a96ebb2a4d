import { t } from '@lingui/core/macro'
import type { Role } from '@/api/client'

export const ROLES: { id: Role; label: string }[] = [
  { id: 'reader', label: t`reader` },
  { id: 'technician', label: t`technician` },
  { id: 'owner', label: t`owner` },
]
