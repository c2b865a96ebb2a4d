import { t } from '@lingui/core/macro'
import { bladeFigure, type LengthUnit } from '@/design/format'
import type { Felt } from './bladeChoice'
import { fanGeometry, type Leaf } from './fanGeometry'
import { ANSWER_WORDS } from './answers'

/** Two prints of one thickness. */
const SAME_MM = 1e-6

/** In which units a leaf carries its figure: what is printed on it first, the page's own unit beside it. */
export function printsOf(printed: LengthUnit | 'both', unit: LengthUnit): LengthUnit[] {
  if (printed === 'both') return [unit, unit === 'mm' ? 'thou' : 'mm']
  return printed === unit ? [unit] : [printed, unit]
}

/** The set in use as a fan of leaves; tried ones carry the mark of what was felt, advised ones a dot. */
export function BladeFan({
  bladesMm,
  chosen,
  felt,
  advisedMm,
  prints,
  onChoose,
}: {
  bladesMm: number[]
  /** The leaf in the hand; -1 where the blade in the hand is none of the set's. */
  chosen: number
  felt: Map<number, Felt>
  /** The blade, or the two blades, to offer next. */
  advisedMm: number[]
  prints: LengthUnit[]
  onChoose: (index: number) => void
}) {
  const fan = fanGeometry(bladesMm, chosen)
  return (
    <svg
      viewBox={`0 0 ${fan.width} ${fan.height}`}
      className="mx-auto block h-auto w-full max-w-[440px] lg:max-w-[524px]"
      role="radiogroup"
      aria-label={t`Blades of the set`}
    >
      <g transform={`translate(${fan.pivot.x} ${fan.pivot.y})`}>
        {fan.leaves.map((leaf) => (
          <BladeLeaf
            key={leaf.index}
            leaf={leaf}
            chosen={leaf.index === chosen}
            felt={felt.get(leaf.index)}
            advised={advisedMm.some((mm) => Math.abs(mm - leaf.thicknessMm) < SAME_MM)}
            prints={prints}
            reachable={leaf.index === Math.max(chosen, 0)}
            onChoose={onChoose}
          />
        ))}
        <circle r={13} fill="var(--color-sheet)" stroke="var(--color-rule-strong)" />
        <path d="M-7 0 H7" stroke="var(--color-rule-strong)" strokeWidth={2} />
      </g>
    </svg>
  )
}

function BladeLeaf({
  leaf,
  chosen,
  felt,
  advised,
  prints,
  reachable,
  onChoose,
}: {
  leaf: Leaf
  chosen: boolean
  felt: Felt | undefined
  advised: boolean
  prints: LengthUnit[]
  /** Whether the tab key comes to it. */
  reachable: boolean
  onChoose: (index: number) => void
}) {
  const [figure, second] = prints.map((unit) => bladeFigure(leaf.thicknessMm, unit))
  const spoken = prints.map((unit) => `${bladeFigure(leaf.thicknessMm, unit)} ${unit}`).join(', ')
  const ink = chosen ? 'var(--color-on-accent)' : 'var(--color-ink)'
  return (
    <g
      className="blade-leaf"
      role="radio"
      aria-checked={chosen}
      aria-label={`${spoken}${felt ? `, ${ANSWER_WORDS[felt]}` : ''}${advised ? t`, recommended` : ''}`}
      tabIndex={reachable ? 0 : -1}
      transform={`rotate(${leaf.turn})`}
      onClick={() => onChoose(leaf.index)}
    >
      <path
        className="leaf-shape"
        d={leaf.path}
        fill={chosen ? 'var(--color-accent)' : felt ? 'var(--color-paper)' : 'var(--color-sheet)'}
        stroke={chosen || advised ? 'var(--color-accent)' : 'var(--color-rule-strong)'}
        strokeWidth={advised ? 2.4 : 1.2}
      />
      {advised && <circle cy={-leaf.figureAt - 37} r={6} fill="var(--color-accent)" />}
      <Figure leaf={leaf} figure={figure ?? ''} second={second} chosen={chosen} ink={ink} />
      {felt && (
        <g transform={`translate(0 ${-leaf.markAt})`} stroke={ink} fill="none">
          <FeltMark felt={felt} />
        </g>
      )}
    </g>
  )
}

/** What is printed on the leaf; along it where it is too narrow, and then the first print alone. */
function Figure({
  leaf,
  figure,
  second,
  chosen,
  ink,
}: {
  leaf: Leaf
  figure: string
  second: string | undefined
  chosen: boolean
  ink: string
}) {
  if (!leaf.labelled) return null
  if (leaf.along) {
    return (
      <text
        transform={`translate(0 ${-leaf.figureAt - 16}) rotate(90)`}
        dy="0.36em"
        fontSize={12.5}
        fontWeight={chosen ? 700 : 500}
        fill={ink}
      >
        {figure}
      </text>
    )
  }
  return (
    <>
      <text
        y={-leaf.figureAt}
        textAnchor="middle"
        fontSize={15}
        fontWeight={chosen ? 700 : 500}
        fill={ink}
      >
        {figure}
      </text>
      {second !== undefined && (
        <text y={-leaf.figureAt + 14} textAnchor="middle" fontSize={11} fill={ink}>
          {second}
        </text>
      )}
    </>
  )
}

/** What was felt, as a mark: a barred way, a rubbing way, an open way. */
export function FeltMark({ felt }: { felt: Felt }) {
  switch (felt) {
    case 'no-go':
      return <path d="M-8 0 H8 M0 2 V10" strokeWidth={2.4} />
    case 'drag':
      return <path d="M-8 3 q4 -8 8 0 t8 0" strokeWidth={2.2} />
    case 'free':
      return <path d="M0 -7 V8 M-5 3 L0 8 L5 3" strokeWidth={2} />
    case 'go':
      return <path d="M-6 6 V-2 H6 V6" strokeWidth={2} />
  }
}
