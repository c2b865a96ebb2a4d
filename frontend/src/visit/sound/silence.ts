import { t } from '@lingui/core/macro'
import type { RecordingOf } from '@/api/client'

/** Why a recording cannot be heard: deleted, or left where the record came from. */
export function silence({ recording }: RecordingOf): string {
  return recording.file === null ? t`sound deleted` : t`sound not on this machine`
}
