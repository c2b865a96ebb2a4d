import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { instrumentsAddress, recordingAddress } from '@/api/addresses'
import type { EngineDetail, RecordingOf, Recordings, Visit } from '@/api/client'
import { buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { recordingsQuery } from '@/sound/queries'
import { Cautions, StepPage } from '@/visit/shared/StepPage'
import { Capture } from './Capture'
import { silence } from './silence'
import { locale } from '@/design/language'

/** Sound at a visit: recorded, or from a file; what each recording says. */
export function SoundPage() {
  return (
    <StepPage at="inspect" title={t`Sound`}>
      {(detail, visit) => <Sound detail={detail} visit={visit} />}
    </StepPage>
  )
}

function Sound({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { engine } = detail
  const [asked] = useSearchParams()
  const { data, error } = useQuery(recordingsQuery(engine.id, visit.id))
  // The last one that was made here, for those who read by ear.
  const [added, setAdded] = useState<string>()
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the recordings`} />
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Sound`}</h1>
        <Link to={instrumentsAddress(engine.id, visit.id)} className={buttonClass('quiet')}>
          {t`All instruments`}
        </Link>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <div className="flex flex-col gap-4">
          <Capture
            engineId={engine.id}
            visitId={visit.id}
            rpm={data.rpm}
            phase={asked.get('phase') === 'left' ? 'left' : 'found'}
            onKept={setAdded}
          />
          <Cautions detail={detail} step="sound" />
          <HowToHold />
        </div>
        <Kept engineId={engine.id} visitId={visit.id} data={data} added={added} />
      </div>
    </>
  )
}

function HowToHold() {
  return (
    <Sheet title={t`How to record`}>
      <ul className="list-disc py-2 pr-4 pl-9 text-[0.95rem]">
        <li>
          {t`Warm engine, idling; the driven machine off. Ten seconds do, half a minute is plenty.`}
        </li>
        <li>
          <Trans>
            The phone or microphone half a metre above the valve cover, still, out of the fan&apos;s
            wind; not touching the engine.
          </Trans>
        </li>
        <li>
          {t`Nobody talks, radio and compressor off. Out of doors, or in a large room that does not ring.`}
        </li>
        <li>
          {t`Read the speed from the code reader, or as the dash shows it, and enter it: right within 10 % is enough.`}
        </li>
        <li>
          {t`An inductive clip on the lead of cylinder 1, on the second channel, tells at which valve it ticks.`}
        </li>
        <li>{t`After adjusting: the same place, the same speed, the same warmth.`}</li>
      </ul>
    </Sheet>
  )
}

function Kept({
  engineId,
  visitId,
  data,
  added,
}: {
  engineId: string
  visitId: string
  data: Recordings
  added: string | undefined
}) {
  const newest = data.recordings.find((one) => one.recording.id === added)
  return (
    <Sheet title={t`Recordings of this visit`}>
      <p role="status" className="sr-only">
        {newest && t`Saved. ${newest.became ?? ''} ${newest.says}`}
      </p>
      {data.recordings.length === 0 ? (
        <p className="p-4 text-ink-soft">
          {t`None yet. A recording tells a noise of the valve train from one of the bottom end, and from one of neither, or says that it cannot tell.`}
        </p>
      ) : (
        <ul>
          {data.recordings.map((one) => (
            <One
              key={one.recording.id}
              one={one}
              counts={one.recording.id === data.counts}
              to={recordingAddress(engineId, visitId, one.recording.id)}
            />
          ))}
        </ul>
      )}
      <p className="border-t border-rule px-4 py-2 text-sm text-ink-soft">{data.limits[0]}</p>
    </Sheet>
  )
}

function One({ one, counts, to }: { one: RecordingOf; counts: boolean; to: string }) {
  const { recording } = one
  return (
    <li className="border-b border-rule px-4 py-2 last:border-0">
      <p>
        <Link to={to} className="font-semibold">
          {new Date(recording.at).toLocaleTimeString(locale(), {
            hour12: false,
            timeStyle: 'short',
          })}
          , {recording.phase === 'found' ? t`before adjusting` : t`after adjusting`}
        </Link>{' '}
        <span className="text-sm text-ink-soft">
          {Math.round(recording.seconds)} s, {Math.round(recording.heard.rpm)} rpm
          {recording.how.clip != null && t`, with ignition clip`}
          {!one.kept && `, ${silence(one)}`}
        </span>
        {recording.simulated && (
          <span className="text-sm font-semibold text-loose"> {t`simulated`}</span>
        )}
      </p>
      {one.became !== null && <p className="font-semibold">{one.became}</p>}
      <p className={one.became === null ? 'font-semibold' : ''}>{one.says}</p>
      {one.lines[0] !== undefined && (recording.heard.ticks ?? []).length > 0 && (
        <p className="text-sm">{one.lines[0]}</p>
      )}
      {one.warnings.map((warning) => (
        <p key={warning} className="text-sm text-loose">
          {warning}
        </p>
      ))}
      {recording.note && <p className="text-sm text-ink-soft">{recording.note}</p>}
      {counts && (
        <p className="text-sm text-in">{t`Counts as evidence in the cases of this visit.`}</p>
      )}
    </li>
  )
}
