import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useEffect, useRef, useState } from 'react'
import type { SoundPicture } from '@/api/client'
import { usePreferences } from '@/design/preferences'
import type { Player } from './player'
import { fixed } from '@/design/format'

const SIZE = { width: 1000, height: 198, left: 70, right: 990, top: 8, bottom: 160 }
const DARKEST_DB = 50
const MARKS_HZ = [100, 300, 1000, 3000, 10_000]

/** The sound over time with the crank speed that was followed; held, it is heard from there on. */
export function Spectrogram({
  picture,
  player,
  slow,
}: {
  picture: SoundPicture
  player: Player | undefined
  slow: boolean
}) {
  const [at, setAt] = useState(0)
  const { spectrogram, speed } = picture
  const x = (seconds: number) =>
    SIZE.left + (seconds / spectrogram.seconds) * (SIZE.right - SIZE.left)

  function moment(event: React.PointerEvent<Element>): number {
    const box = event.currentTarget.getBoundingClientRect()
    const share = (event.clientX - box.left) / box.width
    return Math.min(Math.max(share, 0), 0.999) * spectrogram.seconds
  }

  return (
    <figure className="relative">
      <svg
        viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
        className="block h-auto w-full"
        aria-hidden="true"
      >
        <foreignObject
          x={SIZE.left}
          y={SIZE.top}
          width={SIZE.right - SIZE.left}
          height={SIZE.bottom - SIZE.top}
        >
          <Levels picture={picture} />
        </foreignObject>
        <SpeedLine picture={picture} x={x} />
        <g fontSize={14} fill="var(--color-ink-soft)">
          {MARKS_HZ.map((hz) => {
            const y = yOf(hz, spectrogram.edges_hz)
            return (
              y !== undefined && (
                <text key={hz} x={SIZE.left - 5} y={y} dy="0.35em" textAnchor="end">
                  {hz >= 1000 ? `${hz / 1000} kHz` : `${hz} Hz`}
                </text>
              )
            )
          })}
          {secondMarks(spectrogram.seconds).map((second) => (
            <text
              key={second}
              x={x(second)}
              y={SIZE.bottom + 16}
              textAnchor={x(second) > SIZE.right - 15 ? 'end' : 'middle'}
            >
              {second} s
            </text>
          ))}
          <text x={SIZE.left} y={SIZE.bottom + 34}>
            <Trans>
              line: the crank speed that was followed, {range(speed.map((one) => one.rpm))} rpm
            </Trans>
          </text>
        </g>
        <path
          d={`M${x(at)} ${SIZE.top} V${SIZE.bottom}`}
          stroke="var(--color-loose)"
          strokeWidth={2}
        />
      </svg>
      {player && (
        <div
          role="slider"
          tabIndex={0}
          aria-label={t`Moment of the recording; hold the space bar to hear it`}
          aria-valuemin={0}
          aria-valuemax={Math.round(spectrogram.seconds)}
          aria-valuenow={Math.round(at * 10) / 10}
          aria-valuetext={t`${fixed(at, 1)} s of ${fixed(spectrogram.seconds, 0)} s`}
          className="absolute cursor-pointer touch-none"
          style={{
            left: `${(SIZE.left / SIZE.width) * 100}%`,
            width: `${((SIZE.right - SIZE.left) / SIZE.width) * 100}%`,
            top: 0,
            bottom: `${(1 - SIZE.bottom / SIZE.height) * 100}%`,
          }}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId)
            const seconds = moment(event)
            setAt(seconds)
            player.from(seconds, slow)
          }}
          onPointerUp={player.stop}
          onPointerCancel={player.stop}
          onBlur={player.stop}
          onKeyDown={(event) => {
            const by = { ArrowLeft: -0.5, ArrowRight: 0.5, PageDown: -5, PageUp: 5 }[event.key]
            if (by !== undefined) {
              event.preventDefault()
              setAt(Math.min(Math.max(at + by, 0), spectrogram.seconds - 0.1))
            } else if (event.key === ' ' && !event.repeat) {
              event.preventDefault()
              player.from(at, slow)
            } else if (event.key === ' ') event.preventDefault()
          }}
          onKeyUp={(event) => event.key === ' ' && player.stop()}
        />
      )}
    </figure>
  )
}

/** The levels as a picture of one dot a figure: ink on paper, the louder the darker. */
function Levels({ picture }: { picture: SoundPicture }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const { theme } = usePreferences()
  const rows = picture.spectrogram.level_db
  const columns = rows[0]?.length ?? 1

  useEffect(() => {
    const drawn = canvas.current?.getContext('2d')
    if (!drawn) return
    drawn.clearRect(0, 0, columns, rows.length)
    drawn.fillStyle = getComputedStyle(document.documentElement).getPropertyValue('--color-ink')
    rows.forEach((row, fromLow) =>
      row.forEach((db, column) => {
        drawn.globalAlpha = Math.max(0, 1 + db / DARKEST_DB) ** 1.4
        drawn.fillRect(column, rows.length - 1 - fromLow, 1, 1)
      }),
    )
  }, [rows, columns, theme])

  return (
    <canvas
      ref={canvas}
      width={columns}
      height={rows.length}
      className="block size-full border border-rule-strong bg-sheet"
    />
  )
}

function SpeedLine({ picture, x }: { picture: SoundPicture; x: (seconds: number) => number }) {
  const { speed } = picture
  if (speed.length < 2) return null
  const rpm = speed.map((one) => one.rpm)
  const middle = (Math.max(...rpm) + Math.min(...rpm)) / 2
  const half = Math.max((Math.max(...rpm) - Math.min(...rpm)) / 2, middle * 0.05)
  const height = (SIZE.bottom - SIZE.top) * 0.3
  const y = (value: number) => SIZE.top + 10 + height * (0.5 - (value - middle) / (2 * half))
  const path = speed.map((one, index) => `${index === 0 ? 'M' : 'L'}${x(one.at_s)} ${y(one.rpm)}`)
  return (
    <>
      <path d={path.join('')} fill="none" stroke="var(--color-sheet)" strokeWidth={5} />
      <path d={path.join('')} fill="none" stroke="var(--color-accent)" strokeWidth={2.4} />
    </>
  )
}

function range(rpm: number[]): string {
  if (rpm.length === 0) return 'unknown'
  const low = Math.round(Math.min(...rpm))
  const high = Math.round(Math.max(...rpm))
  return low === high ? String(low) : t`${low} to ${high}`
}

function yOf(hz: number, edges: number[]): number | undefined {
  const [low, high] = [edges[0] ?? 1, edges.at(-1) ?? 1]
  if (hz < low || hz > high) return undefined
  const share = Math.log(hz / low) / Math.log(high / low)
  return SIZE.bottom - share * (SIZE.bottom - SIZE.top)
}

function secondMarks(seconds: number): number[] {
  const step = [1, 2, 5, 10, 20, 30].find((one) => seconds / one <= 12) ?? 60
  return Array.from({ length: Math.floor(seconds / step) + 1 }, (_, index) => index * step)
}
