import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import { newId, type Phase } from '@/api/client'
import { Button } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { simulatedRecording, useAddRecording } from '@/sound/queries'
import { useRecorder, type RecorderState } from '@/sound/useRecorder'
import { HowFields } from './HowFields'
import { faultsOf, howOf, NOTHING_TYPED, type HowTyped } from './howTyped'
import { fixed } from '@/design/format'

const SOUNDS = 'audio/*,video/*,.wav,.flac,.ogg,.mp3,.m4a'
const QUIET_DB = -35

/** What is to be kept: it stays here until the server has it. */
type Taken = { id: string; file: Blob; simulated: boolean; rpm?: number; clip?: number | null }

/** Records, or takes a file, or the simulated microphone; nothing that was recorded is lost. */
export function Capture({
  engineId,
  visitId,
  rpm,
  phase,
  onKept,
}: {
  engineId: string
  visitId: string
  /** The idle speed that the code reader showed. */
  rpm: number | null
  phase: Phase
  onKept: (id: string) => void
}) {
  const [typed, setTyped] = useState<HowTyped>({
    ...NOTHING_TYPED,
    phase,
    rpm: rpm === null ? '' : String(rpm),
  })
  const [taken, setTaken] = useState<Taken>()
  const [fault, setFault] = useState<Error>()
  const [lostS, setLostS] = useState(0)
  const [simulating, setSimulating] = useState(false)
  const add = useAddRecording(engineId, visitId)
  const faulty = Object.keys(faultsOf(typed)).length > 0
  const recorder = useRecorder(({ file, lostS: lost }) => {
    keep({ id: newId(), file, simulated: false })
    setLostS(lost)
  })

  function keep(one: Taken) {
    setFault(undefined)
    setLostS(0)
    setTaken(one)
    const { phase: made, note } = typed
    const how = howOf(typed)
    const known = one.simulated ? { rpm: one.rpm ?? null, clip: one.clip ?? null } : {}
    add.mutate(
      { id: one.id, file: one.file, simulated: one.simulated, phase: made, note, ...how, ...known },
      {
        onSuccess: () => {
          setTaken(undefined)
          setTyped((now) => ({ ...now, note: '' }))
          onKept(one.id)
        },
      },
    )
  }

  async function simulate() {
    setSimulating(true)
    setFault(undefined)
    try {
      keep({ ...(await simulatedRecording(engineId, visitId)), simulated: true })
    } catch (error) {
      setFault(error instanceof Error ? error : new Error(String(error)))
    } finally {
      setSimulating(false)
    }
  }

  const busy = add.isPending || simulating
  const error = fault ?? add.error
  return (
    <Sheet title={t({ context: 'sound', message: 'Record' })}>
      <div
        className="flex flex-col gap-3 px-4 py-3"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault()
          const file = event.dataTransfer.files[0]
          if (file && !busy && !faulty) keep({ id: newId(), file, simulated: false })
        }}
      >
        <HowFields typed={typed} onChange={setTyped} />
        <div className="flex flex-wrap items-center gap-2">
          {recorder.state.at === 'recording' ? (
            <Button look="main" onClick={recorder.stop}>
              {t`Stop and save`}
            </Button>
          ) : (
            <Button
              look="main"
              disabled={busy || faulty || recorder.state.at === 'opening'}
              onClick={recorder.start}
            >
              {recorder.state.at === 'opening'
                ? t`Opening the microphone…`
                : t({ context: 'sound', message: 'Record' })}
            </Button>
          )}
          <FileButton
            label={t`Sound file`}
            accept={SOUNDS}
            disabled={busy || faulty || recorder.state.at === 'recording'}
            onFile={(file) => keep({ id: newId(), file, simulated: false })}
          >
            {t`Choose a file, or drop it here`}
          </FileButton>
          <Button
            look="quiet"
            disabled={busy || recorder.state.at === 'recording'}
            onClick={() => void simulate()}
          >
            {t`Simulated microphone`}
          </Button>
        </div>
        <Level state={recorder.state} />
        {busy && (
          <p role="status">{simulating ? t`The engine is running…` : t`Listening to it…`}</p>
        )}
        {lostS > 0 && <SoundMissing lostS={lostS} />}
        {error && <ErrorNotice error={error} />}
        {taken && add.isError && <NotKept taken={taken} onAgain={() => keep(taken)} />}
        <p className="text-sm text-ink-soft">
          <Trans>
            WAV, FLAC, OGG and MP3 are read; M4A and a phone&apos;s video where ffmpeg is installed
            with the server. The first two minutes are kept, unchanged. The simulated microphone
            hears this engine in its last known state.
          </Trans>
        </p>
      </div>
    </Sheet>
  )
}

/** A recording with gaps is saved all the same: it may be the only one of an engine that has driven off. */
function SoundMissing({ lostS }: { lostS: number }) {
  const seconds = fixed(lostS, 2)
  return (
    <p role="alert" className="text-tight">
      <Trans>
        {seconds} s of sound is missing: this device was too busy, or its microphone was
        disconnected. What is told from this recording is less certain: close what else is running
        and record again.
      </Trans>
    </p>
  )
}

/** The recording that could not be saved, so that it is not lost. */
function NotKept({ taken, onAgain }: { taken: Taken; onAgain: () => void }) {
  function save() {
    const link = document.createElement('a')
    link.href = URL.createObjectURL(taken.file)
    link.download = taken.file instanceof File ? taken.file.name : 'recording.wav'
    link.click()
    URL.revokeObjectURL(link.href)
  }

  return (
    <div className="flex flex-wrap items-center gap-2">
      <p>{t`It is not saved yet, and is still here.`}</p>
      <Button onClick={onAgain}>{t`Try again`}</Button>
      <Button look="quiet" onClick={save}>
        {t`Save it as a file`}
      </Button>
    </div>
  )
}

/** How loud it is, and whether it is cut off. */
function Level({ state }: { state: RecorderState }) {
  if (state.at === 'idle') {
    return state.fault === undefined ? null : (
      <p role="alert" className="text-tight">
        <Trans>No recording: {state.fault}. A file can be chosen all the same.</Trans>
      </p>
    )
  }
  if (state.at !== 'recording') return null
  const share = Math.min(Math.max(1 + state.db / 60, 0), 1)
  return (
    <div>
      <p>
        <strong>{fixed(state.seconds, 0)} s</strong>{' '}
        {state.clipped ? (
          <span role="alert" className="font-semibold text-tight">
            {t`Too loud, it is cut off: hold it further away.`}
          </span>
        ) : state.db < QUIET_DB ? (
          t`very quiet: go nearer`
        ) : (
          t`good level`
        )}
      </p>
      <div
        role="meter"
        aria-label={t`Level`}
        aria-valuemin={-60}
        aria-valuemax={0}
        aria-valuenow={Math.round(state.db)}
        className="h-4 border border-rule-strong bg-paper"
      >
        <div
          className={`h-full ${state.clipped ? 'bg-tight' : 'bg-accent'}`}
          style={{ width: `${share * 100}%` }}
        />
      </div>
    </div>
  )
}
