import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import type { Felt } from '@/api/client'
import { Button } from '@/design/Button'
import { type LengthUnit } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { typedBladesMm } from '@/design/typedLength'
import { ANSWER_WORDS, ANSWERS } from '@/blades/answers'
import { useLockUp, useTakeBackLockUp } from '@/visit/shared/adjustQueries'
import { stackText, type Done } from '@/visit/shared/adjustWords'

const SAYS: Record<Felt, string> = {
  'no-go': t`closed on tightening`,
  drag: t`holds`,
  free: t`opened on tightening`,
  go: t`still goes in`,
}

/** Lock, try a blade, slacken and set anew until it holds: what each lock-up did. */
export function Locking({
  engineId,
  visitId,
  setting,
  setWithMm,
  checkWithMm,
  unit,
}: {
  engineId: string
  visitId: string
  setting: Done & { id: string }
  /** What should have dragged before it was locked. */
  setWithMm: number[] | null
  /** What should drag after. */
  checkWithMm: number[] | null
  unit: LengthUnit
}) {
  const lock = useLockUp(engineId, visitId)
  const back = useTakeBackLockUp(engineId, visitId)
  const known = setting.lock_ups
  const planned = checkWithMm ?? known.at(-1)?.blades_mm ?? []
  const [typed, setTyped] = useState<string | null>(null)
  const shown = typed ?? stackText(planned, unit).replace(` ${unit}`, '')
  const blades = typed === null ? planned : typedBladesMm(typed, unit)
  const usable = blades !== undefined && blades.length > 0
  const holds = known.at(-1)?.felt === 'drag'
  return (
    <div className="mt-1 border-l-4 border-rule pl-3 text-sm">
      {known.length > 0 && (
        <ol className="flex flex-wrap gap-x-4">
          {known.map((one, index) => (
            <li key={index}>
              <Trans>
                tightening {index + 1}: {stackText(one.blades_mm, unit)}{' '}
                {ANSWER_WORDS[one.felt].toLowerCase()},{' '}
                <strong className={one.felt === 'drag' ? 'text-in' : 'text-loose'}>
                  {SAYS[one.felt]}
                </strong>
              </Trans>
            </li>
          ))}
          <li>
            <button
              type="button"
              className="min-h-6 text-accent underline"
              aria-label={t`Undo the last tightening of ${setting.valve}`}
              onClick={() => back.mutate({ settingId: setting.id, index: known.length - 1 })}
            >
              {t`undo`}
            </button>
          </li>
        </ol>
      )}
      {!holds && (
        <div className="flex flex-wrap items-center gap-2 py-1">
          <span className="w-full">
            {known.length === 0 ? t`Tightened` : t`Slackened, adjusted again`}
            {setWithMm && t` with ${stackText(setWithMm, unit)} dragging`}
            {known.length === 0 ? t`: now` : t`, tightened: now`}
          </span>
          <input
            aria-label={t`Blade tried at ${setting.valve} after tightening, ${unit}`}
            value={shown}
            aria-invalid={!usable}
            onChange={(event) => setTyped(event.target.value)}
            className="min-h-11 w-24 rounded-card border border-rule-strong bg-paper px-2"
          />
          {ANSWERS.map(({ felt }) =>
            felt === 'go' ? null : (
              <Button
                key={felt}
                className="px-3!"
                disabled={!usable}
                onClick={() =>
                  usable &&
                  lock.mutate({
                    settingId: setting.id,
                    index: known.length,
                    set_with_mm: setWithMm ?? blades,
                    blades_mm: blades,
                    felt,
                  })
                }
              >
                {ANSWER_WORDS[felt].toLowerCase()}
              </Button>
            ),
          )}
        </div>
      )}
      {lock.error && <ErrorNotice error={lock.error} />}
      {back.error && <ErrorNotice error={back.error} />}
    </div>
  )
}
