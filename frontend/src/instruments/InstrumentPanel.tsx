import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { SelectField } from '@/design/SelectField'
import { useState, type ReactNode } from 'react'
import type { InstrumentKind } from '@/api/client'
import { useGaugeUnits } from '@/shared/gaugeUnits'
import { shownFigure, shownUnit, type GaugeUnits } from '@/design/pressure'
import { InstrumentControls } from './InstrumentControls'
import { TraceChart } from './TraceChart'
import { channelAxis } from './traceGeometry'
import { traceFile } from './traceFile'
import { useLiveTrace, type LiveTrace, type SampleRow } from './useLiveTrace'

/** What an instrument is held to. */
export type Held = { valve?: string; cylinder?: number; oiled?: boolean }

/** An instrument held to a valve, a cylinder or the engine: begun, drawn as it comes, stopped, and kept. */
export function InstrumentPanel({
  kinds,
  valves,
  addressOf,
  onEnd,
  onReplay,
  troubles = false,
  children,
}: {
  kinds: InstrumentKind[]
  valves: { id: string; cylinder: number }[]
  addressOf: (kind: InstrumentKind, held: Held, trouble: string) => string
  /** A trace that ended, however it did, with what it was held to. */
  onEnd: (kind: InstrumentKind, held: Held, trace: LiveTrace) => void
  /** A recorded file read by the server; absent where there is nothing to replay. */
  onReplay?: (
    kind: InstrumentKind,
    file: File,
  ) => Promise<{ samples: SampleRow[]; stopped: string | null }>
  /** Whether the simulated instruments can be told to go wrong. */
  troubles?: boolean
  /** What the trace on show comes to. */
  children?: (trace: LiveTrace | undefined) => ReactNode
}) {
  const [kindId, setKindId] = useState(kinds[0]?.id)
  const [held, setHeld] = useState<Held>({ valve: valves[0]?.id, cylinder: valves[0]?.cylinder })
  const [trouble, setTrouble] = useState<string>('none')
  const [channel, setChannel] = useState(1)
  const [replayFault, setReplayFault] = useState<string>()
  const kind = kinds.find((one) => one.id === kindId) ?? kinds[0]
  const units = useGaugeUnits()
  const live = useLiveTrace((trace) => kind && onEnd(kind, heldFor(kind, held), trace))
  if (!kind) return null
  const running = live.trace?.status === 'running'
  const drawn = kind.id === 'reader' ? channel : undefined
  const shown =
    kind.channels[(drawn ?? (kind.id === 'dial-lift' || kind.id === 'compression' ? 2 : 1)) - 1]

  function choose(change: () => void) {
    live.clear()
    setReplayFault(undefined)
    change()
  }

  function replay(file: File, read: NonNullable<typeof onReplay>) {
    if (!kind) return
    setReplayFault(undefined)
    const channels = kind.channels.map((one) => one.id)
    read(kind, file).then(
      ({ samples, stopped }) => live.play(file.name.slice(0, 100), channels, samples, stopped),
      (error: Error & { faults?: { message: string }[] }) =>
        setReplayFault(`${file.name} ${error.faults?.[0]?.message ?? error.message}`),
    )
  }

  return (
    <div className="flex flex-col gap-3">
      <InstrumentControls
        kind={kind}
        kinds={kinds}
        valves={valves}
        held={held}
        trouble={troubles ? trouble : undefined}
        running={running}
        onKind={(id) => choose(() => setKindId(id))}
        onHeld={(next) => choose(() => setHeld(next))}
        onTrouble={setTrouble}
        onStart={() => live.start(addressOf(kind, heldFor(kind, held), trouble))}
        onStop={live.stop}
        onFile={onReplay && ((file) => replay(file, onReplay))}
      />
      <p className="border-l-6 border-loose bg-sheet px-3 py-1 text-[0.95rem]">{kind.caution}</p>
      <p className="text-ink-soft">{kind.how}</p>
      {replayFault && (
        <p role="alert" className="font-semibold text-tight">
          {replayFault}
        </p>
      )}
      {kind.id === 'reader' && (
        <SelectField
          label={t`drawn`}
          value={String(channel)}
          choices={kind.channels.map((one, index) => ({
            id: String(index + 1),
            label: `${one.label}, ${shownUnit(one.id, one.unit, units)}`,
          }))}
          onChange={(one) => setChannel(Number(one))}
        />
      )}
      <TraceChart
        axis={drawn === undefined ? kind.axis : channelAxis(kind.axis, drawn)}
        samples={inShownUnits(kind, live.trace?.samples ?? [], units)}
        label={shown?.label ?? kind.label}
        unit={shown ? shownUnit(shown.id, shown.unit, units) : ''}
      />
      <p role="status" className="min-h-6">
        {live.trace ? statusText(live.trace) : t`No reading yet.`}
        {live.trace && live.trace.heard.length > 0 && (
          <strong>
            {' '}
            <Trans>Air is heard at {live.trace.heard.join(t` and `)}.</Trans>
          </strong>
        )}
        {live.trace && !running && (
          <a
            className="ml-3"
            download={`${kind.id}.csv`}
            href={traceFile(kind.channels, live.trace.samples)}
          >
            {t`Save the trace`}
          </a>
        )}
      </p>
      {children?.(live.trace)}
    </div>
  )
}

/** The samples with every pressure in the unit of the workshop's gauges. */
function inShownUnits(kind: InstrumentKind, samples: SampleRow[], units: GaugeUnits): SampleRow[] {
  return samples.map(
    (row) =>
      row.map((value, at) => {
        const channel = kind.channels[at - 1]
        if (value === null || !channel || channel.unit !== 'kPa') return value
        return shownFigure(value, shownUnit(channel.id, channel.unit, units))
      }) as SampleRow,
  )
}

/** Only what the kind is held to. */
function heldFor(kind: InstrumentKind, held: Held): Held {
  if (kind.held_to === 'valve') return { valve: held.valve }
  if (kind.held_to === 'cylinder')
    return { cylinder: held.cylinder, oiled: kind.id === 'compression' && (held.oiled ?? false) }
  return {}
}

function statusText(trace: LiveTrace): string {
  const count = t`${trace.samples.length} samples`
  switch (trace.status) {
    case 'running':
      return t`${trace.instrument || t`Waiting for it`}: ${count} so far.`
    case 'whole':
      return t`${trace.instrument}: ${count}, to the end.`
    case 'stopped':
      return t`${trace.instrument}: stopped after ${count}.`
    case 'lost':
      return t`Lost: ${trace.told ?? t`signal lost`}. What came so far is kept: ${count}.`
  }
}
