import { useState } from 'react'
import { Link } from 'react-router'
import { measureAddress } from '@/api/addresses'
import { newId, type SetStop, type SetValve, type SettingIn } from '@/api/client'
import { Button } from '@/design/Button'
import { bladeFigure, chance, length, type LengthUnit } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Questions } from '@/design/Question'
import { typedLengthMm } from '@/design/typedLength'
import { useNoteSetting, useTakeBackSetting } from './settingQueries'
import { TurnDial, turnWords } from './TurnDial'

type Done = SetStop['settings'][number]

/** One valve to set: how far and which way, or which shim; and then that it was done. */
export function ValveToSet({
  engineId,
  visitId,
  valve,
  done,
  unmeasured,
  byShim,
  unit,
}: {
  engineId: string
  visitId: string
  valve: SetValve
  done: Done[]
  unmeasured: boolean
  /** Whether this engine is set by shims. */
  byShim: boolean
  unit: LengthUnit
}) {
  const note = useNoteSetting(engineId, visitId)
  const back = useTakeBackSetting(engineId, visitId)
  // Made once a setting, so that sending it twice notes it once.
  const [id, setId] = useState(() => `s-${newId().slice(0, 12)}`)
  const [typed, setTyped] = useState<string | null>(null)
  const planned = byShim ? valve.shim?.shim_mm : valve.target_mm
  const shown =
    typed ?? (planned == null ? '' : byShim ? planned.toFixed(3) : bladeFigure(planned, unit))
  const value = typed === null ? planned : typedLengthMm(shown, byShim ? 'mm' : unit)

  function send(confirmed: string[] = [], instead?: number) {
    const mm = instead ?? value
    if (mm == null) return
    const body: SettingIn = byShim
      ? { valve: valve.valve, shim_to_mm: mm, confirmed }
      : { valve: valve.valve, target_mm: mm, turn_deg: valve.turn_deg, confirmed }
    note.mutate(
      { id, ...body },
      {
        onSuccess: () => {
          setId(`s-${newId().slice(0, 12)}`)
          setTyped(null)
        },
      },
    )
  }

  return (
    <li className="border-b border-rule px-4 py-2 last:border-0">
      <div className="flex flex-wrap items-center gap-4">
        <strong className="w-10 text-lg">{valve.valve}</strong>
        {valve.turn_deg !== null && <TurnDial degrees={valve.turn_deg} />}
        <div className="min-w-52 flex-1">
          {valve.note && <p className="font-semibold text-loose">{valve.note}</p>}
          {valve.turn_deg !== null && <p className="font-semibold">{turnWords(valve.turn_deg)}</p>}
          {valve.shim && (
            <p className="font-semibold">
              shim {valve.shim.shim_mm.toFixed(3)} mm, {valve.shim.source}
            </p>
          )}
          <p className="text-sm text-ink-soft">
            {valve.from_mm !== null &&
              `stands at ${valve.from_mm > 0 ? length(valve.from_mm, unit) : 'none'}`}
            {valve.p_in_after !== null && `; in spec after: ${chance(valve.p_in_after)}`}
            {valve.together_with.length > 0 &&
              `; slacken and set together with ${valve.together_with.join(' and ')}`}
          </p>
        </div>
        {planned != null && (
          <div className="flex items-center gap-2">
            <label className="flex items-center gap-1 text-sm">
              {byShim ? 'shim, mm' : `to, ${unit}`}
              <input
                aria-label={`${valve.valve} ${byShim ? 'shim' : 'set to'}`}
                inputMode="decimal"
                value={shown}
                onChange={(event) => {
                  note.reset()
                  setTyped(event.target.value)
                }}
                aria-invalid={value === undefined}
                className="min-h-12 w-20 rounded-card border border-rule-strong bg-paper px-2"
              />
            </label>
            <Button
              look={done.length === 0 ? 'main' : 'plain'}
              className="min-h-12"
              disabled={value === undefined}
              onClick={() => send()}
            >
              {done.length === 0 ? 'Is set' : 'Set again'}
            </Button>
          </div>
        )}
      </div>
      {note.error && (
        <div className="mt-2">
          <Questions
            error={note.error}
            suggestionText={(mm) => `${bladeFigure(mm, unit)} ${unit}`}
            onUse={(_, mm) => {
              setTyped(bladeFigure(mm, unit))
              send([], mm)
            }}
            onConfirm={(paths) => send(paths)}
          />
          {!('asked' in note.error && note.error.asked) && <ErrorNotice error={note.error} />}
        </div>
      )}
      {done.map((one, index) => (
        <p key={one.id ?? index} className="mt-1 flex flex-wrap items-center gap-x-3 text-sm">
          <span>
            Set{' '}
            {one.shim_to_mm !== null
              ? `with a shim of ${one.shim_to_mm.toFixed(3)} mm`
              : one.target_mm !== null && `to ${bladeFigure(one.target_mm, unit)} ${unit}`}
            .
          </span>
          {index === done.length - 1 &&
            (unmeasured ? (
              <Link
                className="font-semibold text-loose"
                to={`${measureAddress(engineId, visitId, valve.valve)}?phase=left`}
              >
                Not measured again: locking moves it. Measure {valve.valve} as left
              </Link>
            ) : (
              <span className="text-in">measured again as left</span>
            ))}
          {one.id !== null && (
            <Button
              look="quiet"
              className="min-h-9! px-2! py-0! text-sm"
              onClick={() => back.mutate(one.id ?? '')}
              aria-label={`Take back that ${valve.valve} was set`}
            >
              take back
            </Button>
          )}
        </p>
      ))}
    </li>
  )
}
