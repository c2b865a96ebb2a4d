import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import type { SoundPicture } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { usePlayer } from './player'
import { SoundStrip } from './SoundStrip'
import { Spectrogram } from './Spectrogram'

/** What a recording says, and the picture that it says it from. */
export function SoundView({
  picture,
  address,
  limits,
}: {
  picture: SoundPicture
  /** Where its sound is; without one it cannot be heard. */
  address: string | undefined
  limits: string[]
}) {
  const [slow, setSlow] = useState(false)
  const channel = picture.said.input.sound_channel
  const player = usePlayer(address, channel)
  const { before, cycle } = picture
  const { begin_s, end_s } = picture.one_cycle_s
  return (
    <div className="flex flex-col gap-4">
      <Sheet title={t`What it says`}>
        <div className="flex flex-col gap-1 px-4 py-2">
          {picture.became_says !== null && (
            <p className="text-lg font-semibold">{picture.became_says}</p>
          )}
          {picture.became && <p>{picture.became.why}</p>}
          <p className={picture.became ? '' : 'text-lg font-semibold'}>{picture.says}</p>
          {picture.warnings.map((warning) => (
            <p key={warning} className="font-semibold text-loose">
              {warning}
            </p>
          ))}
          <ul className="text-[0.95rem]">
            {picture.lines.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          <p className="mt-1 border-l-6 border-loose pl-3">{limits[0]}</p>
          <details className="text-sm text-ink-soft">
            <summary className="min-h-9 cursor-pointer py-1">
              {t`What a recording cannot do`}
            </summary>
            <ul className="list-disc pl-5">
              {limits.slice(1).map((limit) => (
                <li key={limit}>{limit}</li>
              ))}
            </ul>
          </details>
        </div>
      </Sheet>
      <Sheet
        title={t`Over time`}
        aside={
          address !== undefined && (
            <span className="flex flex-wrap items-center gap-x-4">
              <label className="flex min-h-11 items-center gap-2 text-sm">
                <input
                  type="checkbox"
                  className="size-5 accent-accent"
                  checked={slow}
                  onChange={(event) => setSlow(event.target.checked)}
                />
                {t`slowed to a quarter`}
              </label>
              <Button
                onClick={() => (player.playing ? player.stop() : player.slowly(begin_s, end_s))}
              >
                {player.playing ? t`Stop` : t`Hear one cycle slowly`}
              </Button>
            </span>
          )
        }
      >
        <div className="px-1 py-2">
          <div role="group" aria-label={t`Over time`} tabIndex={0} className="overflow-x-auto">
            <div className="min-w-[560px]">
              <Spectrogram
                picture={picture}
                player={address === undefined ? undefined : player}
                slow={slow}
              />
            </div>
          </div>
          <p className="px-3 text-sm text-ink-soft">
            {address === undefined
              ? t`The sound was deleted; what it said stays.`
              : t`Press and hold to hear it from there. By keyboard: arrows move, hold the space bar.`}
          </p>
          {player.fault !== undefined && <ErrorNotice error={new Error(player.fault)} />}
        </div>
      </Sheet>
      <Sheet title={t`One cycle of 720°`}>
        <div role="group" aria-label={t`One cycle`} tabIndex={0} className="overflow-x-auto pb-1">
          <div className="min-w-[640px]">
            {before && (
              <SoundStrip
                picture={picture}
                cycle={before}
                title={t`Before setting`}
                alike={[cycle]}
              />
            )}
            <SoundStrip
              picture={picture}
              cycle={cycle}
              title={before ? t`After setting` : t`This recording`}
              alike={before ? [before] : []}
            />
          </div>
        </div>
        <Legend picture={picture} />
      </Sheet>
    </div>
  )
}

/** What the marks mean, and what of them is not known. */
function Legend({ picture }: { picture: SoundPicture }) {
  const { phase } = picture.said
  return (
    <div className="px-4 pb-2 text-sm text-ink-soft">
      <p>
        {t`Height: how far the sound stands out over what is just before and after it, in each band of frequencies. Diamond and line: a tick; the band about it: how well its place is known.`}
        {picture.cycle.zero_deg !== null &&
          t` Full lines: intake open, broken lines: exhaust open, the thick end: it closes. Triangle: the cylinder at top on compression.`}
      </p>
      {phase?.spark_every_deg === 360 && (
        <p>
          {t`The spark comes in each turn: which of the two turns it is cannot be told, and all may lie 360° further on.`}
        </p>
      )}
      {phase?.told_otherwise && <p>{t`The sparks come otherwise than was entered.`}</p>}
      {picture.cycle.zero_deg !== null && picture.usual_events && (
        <p>
          <Trans>This engine&apos;s valve timing is not entered: usual figures are drawn.</Trans>
        </p>
      )}
      {picture.cycle.zero_deg === null && (
        <p>
          {t`Without an ignition clip on a second channel nothing says where in the cycle cylinder 1 fires, so no cylinder and no valve can be named.`}
        </p>
      )}
    </div>
  )
}
