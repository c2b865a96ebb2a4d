import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { instrumentTraceAddress, soundAddress, testsAddress } from '@/api/addresses'
import type { EngineDetail, KeptTrace, Phase, TraceIn, Visit } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { PhaseChoice } from '@/visit/shared/PhaseChoice'
import { StepPage } from '@/visit/shared/StepPage'
import { InstrumentPanel, type Held } from '@/instruments/InstrumentPanel'
import { instrumentsQuery, replayed, useKeepTrace, useTakeTraceBack } from '@/instruments/queries'
import type { LiveTrace } from '@/instruments/useLiveTrace'
import { locale } from '@/design/language'

/** Instruments at a visit: read live or from a file; what is taken over goes into the record with their name. */
export function InstrumentsPage() {
  return (
    <StepPage at="inspect" title={t`Instruments`}>
      {(detail, visit) => <Instruments detail={detail} visit={visit} />}
    </StepPage>
  )
}

function Instruments({ detail: { engine }, visit }: { detail: EngineDetail; visit: Visit }) {
  const { data, error } = useQuery(instrumentsQuery(engine.id, visit.id))
  const keep = useKeepTrace(engine.id, visit.id)
  const back = useTakeTraceBack(engine.id, visit.id)
  const [phase, setPhase] = useState<Phase>('found')
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the instruments`} />

  function ended(kind: string, held: Held, trace: LiveTrace) {
    if (trace.status === 'running') return
    keep.mutate({
      id: trace.id,
      kind: kind as KeptTrace['kind'],
      instrument: trace.instrument || t`an instrument that did not answer`,
      at: trace.at,
      valve: held.valve ?? null,
      cylinder: held.cylinder ?? null,
      oiled: held.oiled ?? false,
      phase,
      heard: trace.heard,
      channels: trace.channels,
      samples: trace.samples,
      ended: trace.status,
      taken: false,
    })
  }

  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Instruments`}</h1>
        <div className="flex flex-wrap gap-2">
          <Link to={soundAddress(engine.id, visit.id)} className={buttonClass()}>
            {t`Sound`}
          </Link>
          <Link to={testsAddress(engine.id, visit.id)} className={buttonClass('quiet')}>
            {t`Measurements and tests`}
          </Link>
        </div>
      </div>
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
        <Sheet
          title={t`Take a reading`}
          aside={<PhaseChoice phase={phase} onChange={setPhase} keys={false} />}
        >
          <div className="px-4 py-3">
            <InstrumentPanel
              kinds={data.kinds}
              valves={engine.valves}
              troubles
              addressOf={(kind, held, trouble) =>
                instrumentTraceAddress(engine.id, visit.id, kind.id, { ...held, trouble })
              }
              onEnd={(kind, held, trace) => ended(kind.id, held, trace)}
              onReplay={(kind, file) => replayed(engine.id, visit.id, kind, file)}
            />
            {(keep.error ?? back.error) && <ErrorNotice error={keep.error ?? back.error} />}
            <p className="mt-2 text-sm text-ink-soft">
              {t`These instruments are simulators that come with the product: they show what this engine would show in its last known state. A file recorded from a real instrument is replayed unchanged.`}
            </p>
          </div>
        </Sheet>
        <Sheet title={t`Readings of this visit`}>
          {data.traces.length === 0 && (
            <p className="p-4 text-ink-soft">{t`No trace yet: choose an instrument and start.`}</p>
          )}
          <ul>
            {[...data.traces].reverse().map((trace) => (
              <Kept
                key={trace.id}
                trace={trace}
                onTakeBack={() => back.mutate(trace.id)}
                onTake={() => keep.mutate(taken(trace, channelsOf(data, trace), phase))}
                pending={keep.isPending}
              />
            ))}
          </ul>
        </Sheet>
      </div>
    </>
  )
}

function channelsOf(
  data: { kinds: { id: string; channels: { id: string }[] }[] },
  trace: KeptTrace,
) {
  return data.kinds.find((one) => one.id === trace.kind)?.channels.map((one) => one.id) ?? []
}

function taken(trace: KeptTrace, channels: string[], phase: Phase): TraceIn & { id: string } {
  const { id, kind, instrument, at, valve, cylinder, oiled, heard, samples, ended } = trace
  const of = { valve, cylinder, oiled, phase, heard }
  return { id, kind, instrument, at, ...of, channels, samples, ended, taken: true }
}

const ENDED = { whole: '', stopped: t`, stopped`, lost: t`, signal lost` }

function Kept({
  trace,
  onTake,
  onTakeBack,
  pending,
}: {
  trace: KeptTrace
  onTake: () => void
  onTakeBack: () => void
  pending: boolean
}) {
  const where =
    trace.valve ?? (trace.cylinder === null ? t`the engine` : t`cylinder ${trace.cylinder}`)
  return (
    <li className="border-b border-rule px-4 py-2 last:border-0">
      <p>
        <strong>{where}</strong>
        {trace.oiled && t` with oil`}: {trace.figures.join(', ') || t`no value`}
        {trace.heard.length > 0 && t`, heard at ${trace.heard.join(t` and `)}`}
      </p>
      <p className="text-sm text-ink-soft">
        {trace.instrument}, {new Date(trace.at).toLocaleTimeString(locale(), { hour12: false })}
        {ENDED[trace.ended]}
      </p>
      {trace.incomplete && (
        <p className="text-sm text-loose">
          <Trans>Incomplete: {trace.incomplete}.</Trans>
        </p>
      )}
      {trace.taken ? (
        <p className="flex flex-wrap items-center gap-3 text-sm">
          <span className={trace.simulated ? 'font-semibold text-loose' : 'text-in'}>
            {t`Imported`}
            {trace.simulated && t`, marked as simulated`}.
          </span>
          <Button look="quiet" onClick={onTakeBack} disabled={pending}>
            {t`Undo the import`}
          </Button>
        </p>
      ) : (
        trace.figures.length > 0 && (
          <Button onClick={onTake} disabled={pending}>
            {trace.incomplete ? t`Import anyway` : t`Import into the record`}
          </Button>
        )
      )}
    </li>
  )
}
