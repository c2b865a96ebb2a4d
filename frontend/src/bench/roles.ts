import type { Role } from '@/api/client'

export const ROLES: { id: Role; label: string }[] = [
  { id: 'reader', label: 'reader' },
  { id: 'technician', label: 'technician' },
  { id: 'owner', label: 'owner' },
]
