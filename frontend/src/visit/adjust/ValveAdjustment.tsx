import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import { Link } from 'react-router'
import { measureAddress } from '@/api/addresses'
import { newId, ProblemError, type AdjustStep, type SetValve, type SettingIn } from '@/api/client'
import { Button } from '@/design/Button'
import { bladeFigure, chance, length, type LengthUnit, fixed } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Questions } from '@/shared/Questions'
import { lengthFault, typedLengthMm, typedShimMm } from '@/design/typedLength'
import { Locking } from './Locking'
import { useNoteSetting, useTakeBackSetting } from '@/visit/shared/adjustQueries'
import { useKeptSettings } from '@/visit/shared/useKeptSettings'
import { sourceText, stackText, type Done } from '@/visit/shared/adjustWords'
import { ShimFound } from './ShimFound'
import { TurnDial, type Turned } from './TurnDial'

export type Place = { engineId: string; visitId: string; unit: LengthUnit }

/** One valve to set: how far and which way, or which shim; then that it was done, and whether it holds. */
export function ValveAdjustment({
  valve,
  stop,
  byShim,
  turned,
  ...place
}: Place & {
  valve: SetValve
  stop: AdjustStep
  /** Whether this engine is set by shims. */
  byShim: boolean
  /** What of the adjuster is turned. */
  turned: Turned
}) {
  const { engineId, visitId, unit } = place
  const done = stop.settings.filter((one) => one.valve === valve.valve)
  const round = done.length + 1
  const unmeasured = stop.unmeasured.includes(valve.valve)
  const kept = useKeptSettings(engineId, visitId).has(valve.valve)
  return (
    <li className="border-b border-rule px-4 py-2 last:border-0">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <strong className="w-10 text-lg">{valve.valve}</strong>
        {valve.turn_deg !== null && <TurnDial degrees={valve.turn_deg} turned={turned} />}
        <div className="min-w-52 flex-1">
          {valve.note && !unmeasured && <p className="font-semibold text-loose">{valve.note}</p>}
          {valve.needs_reading?.next_mm != null && byShim && (
            <p>
              <Link to={measureAddress(engineId, visitId, valve.valve)}>
                <Trans>
                  Measure {valve.valve} more: try {length(valve.needs_reading.next_mm, unit)}
                </Trans>
              </Link>
            </p>
          )}
          {byShim && done.length > 0 && valve.touch && (
            <p className="text-loose">
              <Trans>Not in spec yet: round {round}.</Trans>
            </p>
          )}
          <WhatToDo valve={valve} unit={unit} />
          <p className="text-sm text-ink-soft">{aboutIt(valve, unit).join('; ')}</p>
        </div>
        {kept ? (
          <p role="status">{t`Adjusted; kept on this device, not sent yet.`}</p>
        ) : (
          (valve.touch || done.length === 0) && (
            <NoteIt {...place} valve={valve} byShim={byShim} again={done.length > 0} />
          )
        )}
      </div>
      {byShim && (
        <ShimFound
          engineId={engineId}
          visitId={visitId}
          valve={valve.valve}
          seen={stop.shims_seen[valve.valve] ?? { printed_mm: null, measured_mm: null }}
        />
      )}
      {done.map((one, index) => (
        <WasDone
          key={one.id ?? index}
          {...place}
          done={one}
          valve={valve}
          last={index === done.length - 1}
          unmeasured={unmeasured}
          byShim={byShim}
        />
      ))}
    </li>
  )
}

/** Where a valve is, how likely it is in spec once that is done, and what has to be done with it. */
function aboutIt(valve: SetValve, unit: LengthUnit): string[] {
  const { from_mm, provisional, p_in_after, touch, together_with: others } = valve
  const said: string[] = []
  if (from_mm !== null) {
    const now = from_mm > 0 ? length(from_mm, unit) : t`none`
    said.push(provisional ? t`now ${now} (taken as 0)` : t`now ${now}`)
  }
  if (p_in_after !== null) {
    const likely = chance(p_in_after)
    said.push(touch ? t`in spec after: ${likely}` : t`in spec: ${likely}`)
  }
  if (others.length > 0) {
    said.push(t`slacken and adjust together with ${others.join(t` and `)}`)
  }
  return said
}

function WhatToDo({ valve, unit }: { valve: SetValve; unit: LengthUnit }) {
  if (!valve.touch) return null
  return (
    <>
      {valve.turn_text !== null && <p className="font-semibold">{valve.turn_text}</p>}
      {valve.set_with_mm && (
        <p>
          <Trans>
            so that <strong>{stackText(valve.set_with_mm, unit)}</strong> drags, then tighten the
            locknut
          </Trans>
        </p>
      )}
      {valve.shim?.source === 'kept' && (
        <p className="font-semibold">
          <Trans>leave the shim of {fixed(valve.shim.shim_mm, 3)} mm</Trans>
        </p>
      )}
      {valve.shim && valve.shim.source !== 'kept' && (
        <p className="font-semibold">
          {valve.shim_now_mm !== null && t`${fixed(valve.shim_now_mm, 3)} out, `}
          <Trans>
            {fixed(valve.shim.shim_mm, 3)} mm in, {sourceText(valve.shim.source)}
          </Trans>
        </p>
      )}
    </>
  )
}

/** Where a shim came from, as the plan says it and the server wants it. */
function cameFrom(valve: SetValve, shimMm: number): Partial<SettingIn> {
  const planned = valve.shim
  if (planned?.shim_mm !== shimMm) return {}
  const donor = /^moved from (.+)$/.exec(planned.source)?.[1]
  if (donor !== undefined) return { source: 'moved', moved_from: donor }
  if (planned.source === 'order') return { source: 'order' }
  return planned.source === 'stock' ? { source: 'stock' } : {}
}

/** That it was set, as planned or otherwise; what is odd is asked about, and kept with its reason. */
function NoteIt({
  engineId,
  visitId,
  unit,
  valve,
  byShim,
  again,
}: Place & { valve: SetValve; byShim: boolean; again: boolean }) {
  const note = useNoteSetting(engineId, visitId)
  // Made once a setting, so that sending it twice notes it once.
  const [id, setId] = useState(() => `s-${newId().slice(0, 12)}`)
  const [typed, setTyped] = useState<string | null>(null)
  const [reason, setReason] = useState('')
  const planned = byShim ? valve.shim?.shim_mm : valve.target_mm
  const shown =
    typed ?? (planned == null ? '' : byShim ? fixed(planned, 3) : bladeFigure(planned, unit))
  const value = typed === null ? planned : byShim ? typedShimMm(shown) : typedLengthMm(shown, unit)
  const fault = typed === null || byShim ? null : lengthFault(shown, unit)
  const asked = note.error instanceof ProblemError && note.error.asked

  function send(confirmed: string[] = [], instead?: number) {
    const mm = instead ?? value
    if (mm == null) return
    const body = byShim
      ? { valve: valve.valve, shim_to_mm: mm, ...cameFrom(valve, mm) }
      : // The turn that was advised is not one that anybody measured: the blade is what it was set by.
        { valve: valve.valve, target_mm: mm, turn_deg: null }
    note.mutate(
      { id, ...body, reason, confirmed },
      {
        onSuccess: () => {
          setId(`s-${newId().slice(0, 12)}`)
          setTyped(null)
          setReason('')
        },
      },
    )
  }

  if (planned == null && !byShim) return null
  return (
    <>
      <div className="flex items-end gap-2">
        <label className="flex flex-col text-sm leading-tight">
          {byShim ? t`shim, mm` : t`to, ${unit}`}
          <input
            aria-label={byShim ? t`${valve.valve} shim` : t`${valve.valve} adjusted to`}
            inputMode="decimal"
            value={shown}
            onChange={(event) => {
              note.reset()
              setTyped(event.target.value)
            }}
            aria-invalid={value === undefined}
            className="min-h-12 w-24 rounded-card border border-rule-strong bg-paper px-2"
          />
        </label>
        <Button
          look={again || valve.shim?.source === 'kept' ? 'plain' : 'main'}
          className="min-h-12"
          disabled={value == null}
          onClick={() => send()}
        >
          {again
            ? byShim
              ? t`Mark as fitted`
              : t`Adjusted again`
            : byShim
              ? t`Mark as fitted`
              : t`Mark as adjusted`}
        </Button>
      </div>
      {fault && <p className="w-full text-sm text-loose">{fault}</p>}
      {note.error && (
        <div className="w-full">
          {asked && (
            <input
              aria-label={t`Reason for ${valve.valve}`}
              placeholder={t`reason`}
              maxLength={300}
              value={reason}
              onChange={(event) => setReason(event.target.value)}
              className="mb-2 min-h-10 w-full rounded-card border border-rule-strong bg-paper px-2 placeholder:text-ink-soft"
            />
          )}
          <Questions
            error={note.error}
            suggestionText={(mm) => `${bladeFigure(mm, unit)} ${unit}`}
            onUse={(_, mm) => {
              setTyped(bladeFigure(mm, unit))
              send([], mm)
            }}
            onConfirm={(paths) => send(paths)}
          />
          {!asked && <ErrorNotice error={note.error} />}
        </div>
      )}
    </>
  )
}

function WasDone({
  engineId,
  visitId,
  unit,
  done,
  valve,
  last,
  unmeasured,
  byShim,
}: Place & {
  done: Done
  valve: SetValve
  last: boolean
  unmeasured: boolean
  byShim: boolean
}) {
  const back = useTakeBackSetting(engineId, visitId)
  const { id } = done
  return (
    <div className="mt-1">
      <p className="flex flex-wrap items-center gap-x-3 text-sm">
        <span>
          <Trans>Done: {done.text[unit]}.</Trans>
        </span>
        {last &&
          (unmeasured ? (
            <Link
              className="font-semibold text-loose"
              to={`${measureAddress(engineId, visitId, done.valve)}?phase=left`}
            >
              <Trans>
                {byShim ? t`Not re-measured` : t`Not re-measured: tightening the locknut moves it`}.
                Measure {done.valve} as left
              </Trans>
            </Link>
          ) : (
            <span className="text-in">{t`re-measured as left`}</span>
          ))}
        {id !== null && (
          <Button
            look="quiet"
            className="min-h-9! px-2! py-0! text-sm"
            onClick={() => back.mutate(id)}
            aria-label={t`Undo the adjustment of ${done.valve}`}
          >
            {t`undo`}
          </Button>
        )}
      </p>
      {back.error && <ErrorNotice error={back.error} />}
      {last && id !== null && !byShim && (
        <Locking
          engineId={engineId}
          visitId={visitId}
          setting={{ ...done, id }}
          setWithMm={valve.set_with_mm}
          checkWithMm={valve.check_with_mm}
          unit={unit}
        />
      )}
    </div>
  )
}
