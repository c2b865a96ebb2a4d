import { t } from '@lingui/core/macro'
import type { InstrumentKind } from '@/api/client'
import { Button } from '@/design/Button'
import { SelectField } from '@/design/SelectField'
import { FileButton } from '@/design/FileButton'
import type { Held } from './InstrumentPanel'

const TROUBLES = [
  { id: 'none', label: t`normal` },
  { id: 'drops', label: t`loses readings` },
  { id: 'lead-off', label: t`a lead is off` },
  { id: 'lost', label: t`signal lost` },
] as const

/** Which instrument, what it is held to, and start and stop. */
export function InstrumentControls({
  kind,
  kinds,
  valves,
  held,
  trouble,
  running,
  onKind,
  onHeld,
  onTrouble,
  onStart,
  onStop,
  onFile,
}: {
  kind: InstrumentKind
  kinds: InstrumentKind[]
  valves: { id: string; cylinder: number }[]
  held: Held
  /** What the simulated instrument does wrong; undefined where it cannot be told to. */
  trouble?: string
  running: boolean
  onKind: (id: InstrumentKind['id']) => void
  onHeld: (held: Held) => void
  onTrouble: (id: string) => void
  onStart: () => void
  onStop: () => void
  /** A recorded trace to replay; absent where there is nothing to replay. */
  onFile?: (file: File) => void
}) {
  const cylinders = [...new Set(valves.map((one) => one.cylinder))].sort((a, b) => a - b)
  return (
    <div className="flex flex-wrap items-end gap-3">
      <SelectField
        label={t`instrument`}
        value={kind.id}
        disabled={running}
        choices={kinds.map((one) => ({ id: one.id, label: one.label }))}
        onChange={(id) => onKind(id as InstrumentKind['id'])}
      />
      {kind.held_to === 'valve' && (
        <SelectField
          label={t`valve`}
          value={held.valve ?? ''}
          disabled={running}
          choices={valves.map((one) => ({ id: one.id, label: one.id }))}
          onChange={(valve) => onHeld({ ...held, valve })}
        />
      )}
      {kind.held_to === 'cylinder' && (
        <SelectField
          label={t`cylinder`}
          value={String(held.cylinder)}
          disabled={running}
          choices={cylinders.map((one) => ({ id: String(one), label: String(one) }))}
          onChange={(one) => onHeld({ ...held, cylinder: Number(one) })}
        />
      )}
      {kind.id === 'compression' && (
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-accent"
            disabled={running}
            checked={held.oiled ?? false}
            onChange={(event) => onHeld({ ...held, oiled: event.target.checked })}
          />
          {t`a little oil in it`}
        </label>
      )}
      {trouble !== undefined && (
        <SelectField
          label={t`simulator`}
          value={trouble}
          disabled={running}
          choices={[...TROUBLES]}
          onChange={onTrouble}
        />
      )}
      {running ? (
        <Button look="main" onClick={onStop}>
          {t`Stop`}
        </Button>
      ) : (
        <Button look="main" onClick={onStart}>
          {t`Start`}
        </Button>
      )}
      {onFile && (
        <FileButton
          label={t`A recorded trace`}
          accept=".csv,text/csv"
          disabled={running}
          onFile={onFile}
        >
          {t`Replay a file`}
        </FileButton>
      )}
    </div>
  )
}
