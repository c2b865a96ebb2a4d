import { t } from '@lingui/core/macro'
import { Field } from '@/design/Field'
import { SelectField } from '@/design/SelectField'
import { PhaseChoice } from '@/visit/shared/PhaseChoice'
import { faultsOf, type HowTyped } from './howTyped'

const CHANNELS = [
  { id: '1', label: t`channel 1 (left)` },
  { id: '2', label: t`channel 2 (right)` },
  { id: '3', label: t`channel 3` },
  { id: '4', label: t`channel 4` },
]
const CLIPS = [{ id: '', label: t`no clip` }, ...CHANNELS]
const SOUNDS = [{ id: '', label: t`the loudest, or the first without the clip` }, ...CHANNELS]
const SPARKS: { id: HowTyped['sparkEvery']; label: string }[] = [
  { id: '', label: t`find out` },
  { id: '720', label: t`once in two turns` },
  { id: '360', label: t`once a turn (wasted spark)` },
]

/** What is known beside a recording: when it was made, the speed, and the ignition clip. */
export function HowFields({
  typed,
  narrow = false,
  onChange,
}: {
  typed: HowTyped
  /** One box under the other. */
  narrow?: boolean
  onChange: (typed: HowTyped) => void
}) {
  const faults = faultsOf(typed)
  const put = (part: Partial<HowTyped>) => onChange({ ...typed, ...part })
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end gap-3">
        <div className="flex flex-col gap-1">
          <span className="text-sm font-semibold">{t`Recorded before or after adjusting`}</span>
          <PhaseChoice phase={typed.phase} onChange={(phase) => put({ phase })} keys={false} />
        </div>
        <div className="w-40">
          <Field
            label={t`Speed`}
            unit="rpm"
            inputMode="decimal"
            value={typed.rpm}
            fault={faults.rpm}
            onChange={(event) => put({ rpm: event.target.value })}
          />
        </div>
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-accent"
            checked={typed.revsRaised}
            onChange={(event) => put({ revsRaised: event.target.checked })}
          />
          {t`that is the speed at the start, then raised`}
        </label>
      </div>
      <details open={typed.clip !== ''}>
        <summary className="min-h-11 cursor-pointer py-2 font-semibold">
          {t`Ignition clip and microphone`}
        </summary>
        <div className={`grid gap-3 ${narrow ? '' : 'sm:grid-cols-2'}`}>
          <SelectField
            label={t`Ignition clip on cylinder 1`}
            hint={t`With it the tick is placed at a valve.`}
            value={typed.clip}
            choices={CLIPS}
            onChange={(clip) => put({ clip })}
          />
          <SelectField
            label={t`It sparks`}
            value={typed.sparkEvery}
            choices={SPARKS}
            disabled={typed.clip === ''}
            onChange={(sparkEvery) => put({ sparkEvery })}
          />
          <SelectField
            label={t`The sound is on`}
            value={typed.channel}
            choices={SOUNDS}
            onChange={(channel) => put({ channel })}
          />
          <Field
            label={t`Ignition advance at this speed`}
            unit={t`degrees before top`}
            hint={t`Without it 10 is taken, and places are known less well.`}
            inputMode="decimal"
            value={typed.advance}
            fault={faults.advance}
            onChange={(event) => put({ advance: event.target.value })}
          />
          <Field
            label={t`From engine to microphone`}
            unit="m"
            hint={t`Without it 0.5 is taken.`}
            inputMode="decimal"
            value={typed.distance}
            fault={faults.distance}
            onChange={(event) => put({ distance: event.target.value })}
          />
        </div>
      </details>
      <Field
        label={t`Note`}
        value={typed.note}
        maxLength={500}
        onChange={(event) => put({ note: event.target.value })}
      />
    </div>
  )
}
