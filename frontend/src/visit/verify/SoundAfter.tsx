import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { recordingAddress, soundAddress } from '@/api/addresses'
import { Sheet } from '@/design/Sheet'
import { recordingsQuery } from '@/sound/queries'

/** Whether the noise is gone: the last recording after adjusting against the one before. */
export function SoundAfter({ engineId, visitId }: { engineId: string; visitId: string }) {
  const { data } = useQuery(recordingsQuery(engineId, visitId))
  const last = data?.recordings.find((one) => one.recording.phase === 'left')
  const before = data?.recordings.some((one) => one.recording.phase === 'found')
  if (!data || (!last && !before)) return null
  return (
    <Sheet
      title={t`Sound`}
      aside={
        <Link to={`${soundAddress(engineId, visitId)}?phase=left`}>{t`Record it as left`}</Link>
      }
    >
      <div className="px-4 py-2">
        {last ? (
          <p>
            <Link to={recordingAddress(engineId, visitId, last.recording.id)}>
              {last.became ?? last.says}
            </Link>
          </p>
        ) : (
          <p className="text-ink-soft">
            {t`Recorded before adjusting and not after it: the same place, speed and warmth tell whether the tick is gone.`}
          </p>
        )}
      </div>
    </Sheet>
  )
}
