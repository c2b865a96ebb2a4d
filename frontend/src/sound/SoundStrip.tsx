import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import type { SoundCycle, SoundPicture } from '@/api/client'
import { bandPath, bracketsOf, degOf, highest, lanesOf, spans, STRIP, xAt } from './stripGeometry'
import { fixed } from '@/design/format'

/** Under the lanes: the spark, and the angles. */
const FOOT = 34
const SOFT = 'var(--color-ink-soft)'
const TICKS_DEG = [0, 90, 180, 270, 360, 450, 540, 630, 720]

function hertz(low: number, high: number): string {
  return t`${fixed(low / 1000, 1)} to ${fixed(high / 1000, 1)} kHz`
}

/**
 * One cycle of 720 degrees: the cylinders in firing order with their valves' openings and closings, under them
 * how far the sound stands out in each band. Where several are drawn, all are on one scale.
 */
export function SoundStrip({
  picture,
  cycle,
  title,
  alike,
}: {
  picture: SoundPicture
  cycle: SoundCycle
  title: string
  /** The cycles that are drawn beside it. */
  alike: SoundCycle[]
}) {
  const placed = cycle.zero_deg !== null
  const firing = placed ? picture.firing : []
  const { ofCylinders, ofBands, height } = lanesOf(firing.length, cycle.bands)
  const most = highest([...alike, cycle])
  return (
    <figure>
      <figcaption className="flex flex-wrap justify-between gap-x-4 px-3 pt-2 text-sm">
        <span className="font-semibold">{title}</span>
        <span className="text-ink-soft">
          {placed
            ? t`angles after cylinder 1 at top on compression`
            : t`no ignition clip: the cycle begins anywhere`}
        </span>
      </figcaption>
      <svg
        viewBox={`0 0 ${STRIP.width} ${height}`}
        className="block h-auto w-full"
        role="img"
        aria-label={spoken(cycle)}
      >
        <g fontSize={15} fill={SOFT}>
          {TICKS_DEG.map((deg) => {
            const x = deg === 720 ? STRIP.right : xAt(deg)
            return (
              <g key={deg}>
                <path
                  d={`M${x} 18 V${height - FOOT}`}
                  stroke="var(--color-rule)"
                  strokeWidth={0.6}
                />
                <text x={x} y={height - 4} textAnchor={deg === 720 ? 'end' : 'middle'}>
                  {deg}°
                </text>
              </g>
            )
          })}
        </g>
        <Spreads cycle={cycle} bottom={height - FOOT} />
        {firing.map((one, index) => (
          <CylinderLane
            key={one.cylinder}
            picture={picture}
            cylinder={one.cylinder}
            firesDeg={one.at_deg}
            top={ofCylinders[index]!.top}
          />
        ))}
        {cycle.bands.map((band, index) => {
          const lane = ofBands[index]!
          return (
            <g key={`${band.low_hz} ${band.pooled}`}>
              <path
                d={bandPath(band.height_db, cycle, lane, most)}
                fill={band.pooled ? 'var(--color-accent)' : 'var(--color-accent-pale)'}
                stroke="var(--color-accent)"
                strokeWidth={0.8}
              />
              <path
                d={`M${STRIP.left} ${lane.bottom} H${STRIP.right}`}
                stroke="var(--color-rule-strong)"
              />
              <text
                x={STRIP.left - 6}
                y={lane.bottom - 4}
                textAnchor="end"
                fontSize={14}
                fill={SOFT}
              >
                {band.pooled ? t`all high bands` : hertz(band.low_hz, band.high_hz)}
              </text>
            </g>
          )
        })}
        <Ticks cycle={cycle} bottom={height - FOOT} />
        {cycle.zero_deg !== null && <SparkMark top={height - FOOT + 2} zeroDeg={cycle.zero_deg} />}
      </svg>
    </figure>
  )
}

/** Where a cylinder fires, and from when to when its valves are open. */
function CylinderLane({
  picture,
  cylinder,
  firesDeg,
  top,
}: {
  picture: SoundPicture
  cylinder: number
  firesDeg: number
  top: number
}) {
  const fires = xAt(firesDeg)
  return (
    <g>
      <text x={STRIP.left - 6} y={top + 14} textAnchor="end" fontSize={15} fill="var(--color-ink)">
        <Trans>cylinder {cylinder}</Trans>
      </text>
      <path d={`M${fires} ${top} l4 8 h-8 Z`} fill="var(--color-ink)">
        <title>
          <Trans>cylinder {cylinder} at top on compression</Trans>
        </title>
      </path>
      {bracketsOf(picture, cylinder).map((one) => {
        const y = one.side === 'intake' ? top + 6 : top + 15
        return (
          <g key={one.side}>
            {spans(one.opens, one.closes).map(([from, to]) => (
              <path
                key={from}
                d={`M${from} ${y} H${to}`}
                stroke="var(--color-ink)"
                strokeWidth={1.6}
                strokeDasharray={one.side === 'intake' ? undefined : '7 4'}
              />
            ))}
            <path
              d={`M${xAt(one.opens)} ${y - 3} v6`}
              stroke="var(--color-ink)"
              strokeWidth={1.6}
            />
            <path
              d={`M${xAt(one.closes)} ${y - 5} v10`}
              stroke="var(--color-ink)"
              strokeWidth={2.4}
            >
              <title>
                <Trans>
                  {one.valves.join(', ')} closes at {Math.round(one.closes)}°
                </Trans>
              </title>
            </path>
          </g>
        )
      })}
    </g>
  )
}

/** How well the place of each tick is known, under all else. */
function Spreads({ cycle, bottom }: { cycle: SoundCycle; bottom: number }) {
  return cycle.ticks.flatMap((tick) => {
    const deg = degOf(tick.place, cycle)
    const sd = tick.sd_deg ?? 0
    return spans(deg - sd, deg + sd).map(([from, to]) => (
      <rect
        key={`${tick.place} ${from}`}
        x={from}
        y={18}
        width={Math.max(to - from, 0)}
        height={bottom - 18}
        fill="var(--color-spec-band)"
      />
    ))
  })
}

/** Each tick as a line through all lanes, with a diamond and the valve that is likeliest. */
function Ticks({ cycle, bottom }: { cycle: SoundCycle; bottom: number }) {
  return cycle.ticks.map((tick) => {
    const deg = degOf(tick.place, cycle)
    const x = xAt(deg)
    return (
      <g key={tick.place}>
        <path d={`M${x} 18 V${bottom}`} stroke="var(--color-ink)" strokeWidth={1.4} />
        <path d={`M${x} 8 l6 7 l-6 7 l-6 -7 Z`} fill="var(--color-ink)" />
        {tick.valve !== null && (
          <text x={x + 10} y={16} fontSize={16} fontWeight={700} fill="var(--color-ink)">
            {tick.valve}
          </text>
        )}
      </g>
    )
  })
}

/** Where the spark of the ignition clip is heard: the sound takes its time to the microphone. */
function SparkMark({ top, zeroDeg }: { top: number; zeroDeg: number }) {
  const at = xAt(zeroDeg)
  const leftOfIt = at > (STRIP.left + STRIP.right) / 2
  return (
    <g fontSize={14} fill={SOFT}>
      <path
        d={`M${at} ${top} l5 9 h-10 Z`}
        fill="none"
        stroke="var(--color-ink)"
        strokeWidth={1.4}
      />
      <text x={at + (leftOfIt ? -8 : 8)} y={top + 10} textAnchor={leftOfIt ? 'end' : 'start'}>
        {t`spark`}
      </text>
    </g>
  )
}

function spoken(cycle: SoundCycle): string {
  if (cycle.ticks.length === 0) return t`One cycle of the sound: no tick stands out`
  const placed = cycle.zero_deg !== null
  const ticks = cycle.ticks.map((tick) => {
    const strength = t`${Math.round(tick.strength_db)} decibels`
    return placed ? t`${Math.round(degOf(tick.place, cycle))} degrees, ${strength}` : strength
  })
  return t`One cycle of the sound, ticks: ${ticks.join('; ')}`
}
