import { scaleLinear } from 'd3-scale'
import type { LengthUnit } from '@/design/format'
import { VERDICT_COLOUR, VerdictShape } from '@/design/shapes'
import { gapFigure, isNone, type Gap, type SpecRange } from './gap'

const WIDTHS_SHOWN = 2.6

/**
 * A small upright scale about the spec: the band stands at the same height in every window, so a tight
 * valve sits low and a loose one high whatever its spec. Drawn about (0, 0).
 */
export function GapWindow({
  spec,
  gap,
  flag,
  height,
  width,
  figure,
  unit,
}: {
  spec: SpecRange | null
  gap: Gap | undefined
  /** A word in place of the figure. */
  flag?: string
  height: number
  width: number
  /** Height of the figure under the window. */
  figure: number
  unit: LengthUnit
}) {
  const half = height / 2
  const verdict = gap?.verdict ?? 'blank'
  const colour = VERDICT_COLOUR[verdict]
  return (
    <g>
      <rect
        x={-width / 2}
        y={-half}
        width={width}
        height={height}
        fill="var(--color-sheet)"
        stroke={colour}
        strokeWidth={gap ? 1.6 : 1}
        strokeDasharray={verdict === 'open' ? '5 4' : undefined}
      />
      {spec && <Scale spec={spec} gap={gap} height={height} width={width} />}
      <g transform={`translate(0 ${half + 11})`}>
        <VerdictShape verdict={verdict} />
      </g>
      <text
        y={half + 18 + figure * 0.85}
        textAnchor="middle"
        fontSize={flag === undefined ? figure : 14}
        fontWeight={600}
        fill={gap ? colour : flag ? 'var(--color-ink)' : 'var(--color-ink-soft)'}
      >
        {flag ?? (gap ? gapFigure(gap, unit) : '–')}
      </text>
      {gap?.contradiction && (
        <text
          x={22}
          y={-half + 13}
          textAnchor="middle"
          fontSize={16}
          fontWeight={700}
          fill={colour}
        >
          ≠
        </text>
      )}
    </g>
  )
}

function Scale({
  spec,
  gap,
  height,
  width,
}: {
  spec: SpecRange
  gap: Gap | undefined
  height: number
  width: number
}) {
  const inside = width / 2 - 1
  const half = height / 2 - 2
  const middle = (spec.min_mm + spec.max_mm) / 2
  const specWidth = spec.max_mm - spec.min_mm
  const y = scaleLinear()
    .domain([middle - WIDTHS_SHOWN * specWidth, middle + WIDTHS_SHOWN * specWidth])
    .range([half, -half])
    .clamp(true)
  return (
    <g>
      <rect
        x={-inside}
        y={y(spec.max_mm)}
        width={2 * inside}
        height={y(spec.min_mm) - y(spec.max_mm)}
        fill="var(--color-spec-band)"
      />
      <path
        d={`M${-inside} ${y(spec.max_mm)} H${inside} M${-inside} ${y(spec.min_mm)} H${inside}`}
        stroke="var(--color-in)"
        strokeWidth={0.8}
      />
      {gap && <Reading gap={gap} y={y} bottom={half} top={-half} inside={inside} />}
    </g>
  )
}

function Reading({
  gap,
  y,
  bottom,
  top,
  inside,
}: {
  gap: Gap
  y: (mm: number) => number
  bottom: number
  top: number
  inside: number
}) {
  const colour = VERDICT_COLOUR[gap.verdict]
  const low = gap.wentMm === null ? bottom : y(gap.wentMm)
  const high = gap.refusedMm === null ? y(gap.highMm) : y(gap.refusedMm)
  const mean = y(gap.meanMm)
  return (
    <g stroke={colour} fill="none" strokeWidth={1.6}>
      {/* From what went to what did not; an end that is not known has no foot. */}
      <path
        d={`M-4 ${low} V${high}${gap.wentMm === null ? '' : ` M-8 ${low} H0`}${
          gap.refusedMm === null ? '' : ` M-8 ${high} H0`
        }`}
      />
      {gap.felt && (
        // As it was felt, before the temperature is allowed for.
        <path
          d={`M${inside - 5} ${gap.felt.wentMm === null ? bottom : y(gap.felt.wentMm)} V${
            gap.felt.refusedMm === null ? y(gap.highMm) : y(gap.felt.refusedMm)
          }`}
          strokeWidth={1.2}
          strokeDasharray="2 2"
          opacity={0.6}
        />
      )}
      {isNone(gap) ? (
        <path d={`M3 ${bottom - 9} L7.5 ${bottom - 1} L12 ${bottom - 9} Z`} fill={colour} />
      ) : mean <= top + 0.5 ? (
        <path d={`M3 ${top + 9} L7.5 ${top + 1} L12 ${top + 9} Z`} fill={colour} />
      ) : mean >= bottom - 0.5 ? (
        <path d={`M3 ${bottom - 9} L7.5 ${bottom - 1} L12 ${bottom - 9} Z`} fill={colour} />
      ) : (
        // Where only a bound is known there is no estimate to mark.
        gap.isNumber && <path d={`M${1 - inside} ${mean} H${inside - 1}`} strokeWidth={3} />
      )}
    </g>
  )
}
