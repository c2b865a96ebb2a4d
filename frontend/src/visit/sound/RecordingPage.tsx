import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { recordedSoundAddress, soundAddress } from '@/api/addresses'
import type { EngineDetail, RecordingOf, Visit } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useIsOwner } from '@/people/session'
import {
  recordingsQuery,
  soundPictureQuery,
  useChangeRecording,
  useDeleteRecording,
} from '@/sound/queries'
import { SoundView } from '@/sound/SoundView'
import { StepPage } from '@/visit/shared/StepPage'
import { HowFields } from './HowFields'
import { faultsOf, howOf, typedOf } from './howTyped'

/** One recording: what it says, its picture, how it was made. */
export function RecordingPage() {
  return (
    <StepPage at="inspect" title={t`Recording`}>
      {(detail, visit) => <Recording detail={detail} visit={visit} />}
    </StepPage>
  )
}

function Recording({ detail: { engine }, visit }: { detail: EngineDetail; visit: Visit }) {
  const { recordingId = '' } = useParams()
  const all = useQuery(recordingsQuery(engine.id, visit.id))
  const one = all.data?.recordings.find((each) => each.recording.id === recordingId)
  const picture = useQuery({
    ...soundPictureQuery(engine.id, visit.id, recordingId),
    enabled: one?.kept === true,
  })
  if (!all.data) return all.error ? <ErrorNotice error={all.error} /> : <Loading what={t`it`} />
  const back = soundAddress(engine.id, visit.id)
  if (!one) {
    return (
      <p>
        <Trans>
          There is no such recording at this visit. <Link to={back}>All recordings</Link>
        </Trans>
      </p>
    )
  }
  const { recording } = one
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>
          <Trans>Recording, {recording.phase === 'found' ? t`before` : t`after`} adjusting</Trans>
          {recording.simulated && <span className="text-loose"> {t`(simulated)`}</span>}
        </h1>
        <Link to={back} className={buttonClass('quiet')}>
          {t`All recordings`}
        </Link>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_360px]">
        <div>
          {one.kept ? (
            picture.data ? (
              <SoundView
                picture={picture.data}
                address={recordedSoundAddress(engine.id, visit.id, recording.id)}
                limits={all.data.limits}
              />
            ) : picture.error ? (
              <ErrorNotice error={picture.error} />
            ) : (
              <Loading what={t`the sound`} />
            )
          ) : (
            <WithoutSound one={one} />
          )}
        </div>
        <div className="flex flex-col gap-4">
          {one.kept && <How key={recording.id} engineId={engine.id} visitId={visit.id} one={one} />}
          <Deleting engineId={engine.id} visitId={visit.id} one={one} />
        </div>
      </div>
    </>
  )
}

/** What a recording said whose sound was deleted. */
function WithoutSound({ one }: { one: RecordingOf }) {
  return (
    <Sheet title={t`What it said`}>
      <div className="px-4 py-2">
        {one.became !== null && <p className="font-semibold">{one.became}</p>}
        <p className="font-semibold">{one.says}</p>
        <ul>
          {one.lines.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
        <p className="text-ink-soft">
          {one.recording.file === null
            ? t`Its sound was deleted; what it said stays.`
            : t`Its sound is not on this machine: the record came without it.`}
        </p>
      </div>
    </Sheet>
  )
}

function How({
  engineId,
  visitId,
  one: { recording },
}: {
  engineId: string
  visitId: string
  one: RecordingOf
}) {
  const stored = typedOf(recording.how, recording.phase, recording.note)
  const [typed, setTyped] = useState(stored)
  const change = useChangeRecording(engineId, visitId)
  const faulty = Object.keys(faultsOf(typed)).length > 0
  const same = JSON.stringify(typed) === JSON.stringify(stored)
  return (
    <Sheet title={t`How it was made`}>
      <form
        className="flex flex-col gap-3 px-4 py-3"
        onSubmit={(event) => {
          event.preventDefault()
          if (faulty) return
          const { phase, note } = typed
          change.mutate({ id: recording.id, phase, note, ...howOf(typed) })
        }}
      >
        <HowFields typed={typed} narrow onChange={setTyped} />
        <Button type="submit" look="main" disabled={same || faulty || change.isPending}>
          {change.isPending ? t`Listening to it…` : t`Listen again with this`}
        </Button>
        {change.error && <ErrorNotice error={change.error} />}
      </form>
    </Sheet>
  )
}

function Deleting({
  engineId,
  visitId,
  one,
}: {
  engineId: string
  visitId: string
  one: RecordingOf
}) {
  const owner = useIsOwner()
  const navigate = useNavigate()
  const remove = useDeleteRecording(engineId, visitId)
  const [asked, setAsked] = useState<'sound' | 'all'>()
  const id = one.recording.id
  if (!owner) {
    return (
      <p className="text-sm text-ink-soft">
        {t`Only an owner of the workshop deletes recordings.`}
      </p>
    )
  }
  return (
    <Sheet title={t`Delete`}>
      <div className="flex flex-wrap gap-2 px-4 py-3">
        {one.kept && (
          <Button
            onClick={() =>
              asked === 'sound' ? remove.mutate({ id, soundOnly: true }) : setAsked('sound')
            }
            onBlur={() => setAsked(undefined)}
            disabled={remove.isPending}
          >
            {asked === 'sound' ? t`Really delete the sound?` : t`Delete the sound alone`}
          </Button>
        )}
        <Button
          onClick={() =>
            asked === 'all'
              ? remove.mutate(
                  { id, soundOnly: false },
                  { onSuccess: () => void navigate(soundAddress(engineId, visitId)) },
                )
              : setAsked('all')
          }
          onBlur={() => setAsked(undefined)}
          disabled={remove.isPending}
        >
          {asked === 'all' ? t`Really delete all of it?` : t`Delete with what it says`}
        </Button>
        <p className="text-sm text-ink-soft">
          {t`There is no bin for sound: it is gone for good, except from backups.`}
        </p>
        {remove.error && <ErrorNotice error={remove.error} />}
      </div>
    </Sheet>
  )
}
