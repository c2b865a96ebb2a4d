import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { recordingAddress, soundAddress } from '@/api/addresses'
import { Sheet } from '@/design/Sheet'
import { recordingsQuery } from '@/sound/queries'

/** What the sound recording of a case's visit says; it counts for the causes as one witness. */
export function Recorded({ engineId, visitId }: { engineId: string; visitId: string }) {
  const { data } = useQuery(recordingsQuery(engineId, visitId))
  const counting = data?.recordings.find((one) => one.recording.id === data.counts)
  const mute = data !== undefined && data.recordings.length > 0 && !counting
  return (
    <Sheet
      title={t`Sound`}
      aside={<Link to={soundAddress(engineId, visitId)}>{t`Record the noise`}</Link>}
    >
      <div className="px-4 py-2">
        {counting && (
          <>
            <p>
              <Link to={recordingAddress(engineId, visitId, counting.recording.id)}>
                {counting.says}
              </Link>
            </p>
            {(counting.recording.heard.ticks ?? []).length > 0 && (
              <p className="text-sm">{counting.lines[0]}</p>
            )}
            <p className="text-sm text-ink-soft">
              <Trans>
                Counts as one witness. {data?.limits[0]} What was noted by ear does not count beside
                it.
              </Trans>
            </p>
          </>
        )}
        {mute && (
          <p className="text-ink-soft">
            {t`The recordings of this visit cannot tell: they change nothing.`}
          </p>
        )}
        {data?.recordings.length === 0 && (
          <p className="text-ink-soft">
            {t`Not recorded yet: half a minute tells whether it comes from the valve train, the bottom end or neither.`}
          </p>
        )}
      </div>
    </Sheet>
  )
}
