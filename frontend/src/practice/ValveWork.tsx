import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { PracticeRun } from '@/api/client'
import { feltAt, type Felt } from '@/blades/bladeChoice'
import { BladeFan } from '@/blades/BladeFan'
import { Button } from '@/design/Button'
import { length, lengthRange } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { typedLengthMm } from '@/design/typedLength'
import { KnownOfValve } from './KnownOfValve'
import type { useRun } from './queries'
import { useValveHands } from './useValveHands'

type Doing = ReturnType<typeof useRun>

/** One valve of the practice engine under the hand: waggled, measured blade by blade, set and locked. */
export function ValveWork({
  run,
  valveId,
  doing,
  onNext,
}: {
  run: PracticeRun
  valveId: string
  doing: Doing
  onNext: () => void
}) {
  const { unit } = usePreferences()
  const hands = useValveHands({ run, valveId, doing, onNext })
  const { valve, phase, hand, setHand, blades, hinted, target, setTarget, ended, busy } = hands

  if (!valve) return null
  const tries = (phase === 'left' ? valve.left : valve.found).map((one) => ({
    blades_mm: one.blades_mm,
    felt: one.felt as Felt,
  }))
  const target_mm = typedLengthMm(target, unit)
  return (
    <div className="flex flex-col gap-2 p-3">
      <div className="flex flex-wrap items-center gap-2">
        <Button disabled={ended} onClick={hands.waggle}>
          <Trans>
            rock <span className="text-sm text-ink-soft">( W )</span>
          </Trans>
        </Button>
        <Button disabled={ended} onClick={hands.look}>
          <Trans>
            look <span className="text-sm text-ink-soft">( V )</span>
          </Trans>
        </Button>
        <Button disabled={ended} onClick={hands.askHint}>
          <Trans>
            hint <span className="text-sm text-ink-soft">( H )</span>
          </Trans>
        </Button>
        <Button look="quiet" onClick={onNext}>
          <Trans>
            next <span className="text-sm">( N )</span>
          </Trans>
        </Button>
      </div>
      <p role="status" className="min-h-6">
        <Trans>
          Spec <strong>{lengthRange(valve.spec.min_mm, valve.spec.max_mm, unit)}</strong>.{' '}
          {[
            valve.waggle === 'click' && t`A small click: there is play.`,
            valve.waggle === 'dead' && t`No play: the valve is open or there is no clearance.`,
            valve.seen &&
              (valve.seen.length > 0 ? `${valve.seen.join(', ')}.` : t`Nothing to see.`),
            hinted?.pressed &&
              t`The valve is open here: turn the crank on until its lobe points away.`,
            hinted &&
              !hinted.pressed &&
              hinted.blades_mm === null &&
              t`No blade would tell you more.`,
          ]
            .filter(Boolean)
            .join(' ')}
        </Trans>
      </p>
      <div className="mx-auto w-full max-w-[400px]">
        <BladeFan
          bladesMm={run.blades_mm}
          chosen={hand.at}
          felt={feltAt(run.blades_mm, tries)}
          advisedMm={hinted?.blades_mm ?? []}
          prints={[unit]}
          onChoose={(at) => setHand((now) => ({ ...now, at }))}
        />
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <Button
          look="main"
          disabled={ended || busy}
          onClick={hands.offer}
          className="min-h-12 grow"
        >
          <Trans>
            try {blades.map((one) => length(one, unit)).join(' + ')}{' '}
            <span className="text-sm">( Enter )</span>
          </Trans>
        </Button>
        {hand.under.length > 0 && (
          <Button onClick={() => setHand((now) => ({ ...now, under: [] }))}>{t`only one`}</Button>
        )}
      </div>
      <KnownOfValve valve={valve} />
      {!ended && (
        <div className="flex flex-wrap items-end gap-2 border-t border-rule pt-2">
          <label className="flex flex-col text-sm text-ink-soft">
            <Trans>adjust to, {unit}</Trans>
            <input
              value={target}
              inputMode="decimal"
              onChange={(event) => setTarget(event.target.value)}
              aria-invalid={target_mm === undefined}
              className="min-h-11 w-24 rounded-card border border-rule-strong bg-paper px-2 text-base text-ink"
            />
          </label>
          <Button disabled={busy || target_mm === undefined} onClick={hands.set}>
            <Trans>
              slacken and adjust <span className="text-sm text-ink-soft">( S )</span>
            </Trans>
          </Button>
          <Button disabled={busy || !valve.slack} onClick={hands.lock}>
            <Trans>
              tighten the locknut <span className="text-sm text-ink-soft">( L )</span>
            </Trans>
          </Button>
          {valve.slack && <strong className="pb-2 text-loose">{t`the locknut is slack`}</strong>}
        </div>
      )}
    </div>
  )
}
