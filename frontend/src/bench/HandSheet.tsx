import { t } from '@lingui/core/macro'
import { useState } from 'react'
import { ANSWER_WORDS } from '@/blades/answers'
import { Button } from '@/design/Button'
import { Sheet } from '@/design/Sheet'
import { useKeys } from '@/design/useKeys'
import { changeHandSettings, useHandSettings } from '@/hands/handSettings'
import { keyFault, putKey, type HandAction } from '@/hands/keys'
import { canVibrate, signal, type Signal } from '@/hands/signals'

const ACTIONS: { action: HandAction; words: string; always: string }[] = [
  { action: 'no-go', words: ANSWER_WORDS['no-go'], always: t`J or 1` },
  { action: 'drag', words: ANSWER_WORDS.drag, always: t`K or 2` },
  { action: 'free', words: ANSWER_WORDS.free, always: t`L or 3` },
  { action: 'next', words: t`next valve`, always: 'Enter' },
]
const TRY: { what: Signal; words: string }[] = [
  { what: 'in-spec', words: t`decided, in spec` },
  { what: 'out-of-spec', words: t`decided, out of spec` },
  { what: 'not-understood', words: t`not understood` },
]

/** What this device tells by sound and vibration while measuring, and which keys its foot switch sends. */
export function HandSheet() {
  const { tones, vibration, keys, prefixAlways } = useHandSettings()
  const [asked, setAsked] = useState<HandAction>()
  const [fault, setFault] = useState<string>()

  function stop() {
    setAsked(undefined)
    setFault(undefined)
  }
  useKeys((event) => {
    if (!asked) return
    event.preventDefault()
    if (event.key === 'Escape') return stop()
    const wrong = keyFault(event.key)
    setFault(wrong)
    if (wrong) return
    changeHandSettings({ keys: putKey(keys, asked, event.key) })
    stop()
  })

  return (
    <Sheet title={t`Keys, tones and voice`}>
      <div className="px-4 py-3">
        <p>
          {t`For this device. A foot switch or a presenter’s remote is a keyboard: put what it sends to an answer, and measure without a clean finger.`}
        </p>
        <table className="mt-2 w-full">
          <thead className="text-left text-sm text-ink-soft">
            <tr>
              <th className="font-normal">{t`On Measure`}</th>
              <th className="font-normal">{t`Key`}</th>
              <th className="font-normal">{t`One more key`}</th>
            </tr>
          </thead>
          <tbody>
            {ACTIONS.map(({ action, words, always }) => (
              <tr key={action} className="border-t border-rule">
                <th scope="row" className="py-1 pr-3 text-left">
                  {words}
                </th>
                <td className="pr-3">{always}</td>
                <td className="py-1">
                  <span className="flex flex-wrap items-center gap-x-1">
                    <Button
                      look={asked === action ? 'main' : 'plain'}
                      className="min-w-24"
                      aria-label={`${words}: ${asked === action ? t`press a key` : (shown(keys[action]) ?? t`choose a key`)}`}
                      onClick={() => (asked === action ? stop() : setAsked(action))}
                    >
                      {asked === action ? t`Press a key` : (shown(keys[action]) ?? t`Choose`)}
                    </Button>
                    {keys[action] !== undefined && (
                      <Button
                        look="quiet"
                        className="px-2!"
                        aria-label={t`Remove the key of: ${words}`}
                        onClick={() => changeHandSettings({ keys: putKey(keys, action, null) })}
                      >
                        {t`remove`}
                      </Button>
                    )}
                  </span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <p aria-live="polite" className={fault ? 'text-tight' : 'text-sm text-ink-soft'}>
          {fault ??
            (asked
              ? t`Press the pedal or the key now. Esc leaves it as it was.`
              : t`On Measure a key chosen here comes before what it does otherwise.`)}
        </p>
      </div>
      <fieldset className="border-t border-rule px-4 py-3">
        <legend className="sr-only">{t`What is told without looking`}</legend>
        <Switch label={t`Tones`} on={tones} onChange={(on) => changeHandSettings({ tones: on })} />
        {canVibrate() ? (
          <Switch
            label={t`Vibration`}
            on={vibration}
            onChange={(on) => changeHandSettings({ vibration: on })}
          />
        ) : (
          <p className="text-sm text-ink-soft">{t`This browser cannot make the device vibrate.`}</p>
        )}
        <Switch
          label={t`Spoken answers always need “feeler gauge” before them`}
          on={prefixAlways}
          onChange={(on) => changeHandSettings({ prefixAlways: on })}
        />
        {!prefixAlways && (
          <p className="text-sm text-ink-soft">
            {t`For six seconds after the next blade was said aloud it may be left out. What others say then is more easily taken for an answer.`}
          </p>
        )}
        <div className="mt-1 flex flex-wrap items-center gap-2">
          <span>{t`Try:`}</span>
          {TRY.map(({ what, words }) => (
            <Button
              key={what}
              disabled={!tones && !(vibration && canVibrate())}
              onClick={() => signal(what)}
            >
              {words}
            </Button>
          ))}
        </div>
      </fieldset>
    </Sheet>
  )
}

function shown(key: string | undefined): string | undefined {
  return key === ' ' ? 'Space' : key
}

function Switch({
  label,
  on,
  onChange,
}: {
  label: string
  on: boolean
  onChange: (on: boolean) => void
}) {
  return (
    <label className="flex min-h-11 items-center gap-3">
      <input
        type="checkbox"
        checked={on}
        onChange={(event) => onChange(event.target.checked)}
        className="size-5 accent-accent"
      />
      {label}
    </label>
  )
}
