import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import type { BladeSet } from '@/api/client'
import { bladeFigure, length, lengthRange, type LengthUnit } from '@/design/format'

const PRINT_WORDS: Record<BladeSet['unit'], string> = {
  mm: 'mm',
  thou: 'thou',
  both: t`mm and thou`,
}

/** How many blades, from where to where, and what is printed on them. */
export function BladeSetRange({ set, unit }: { set: BladeSet; unit: LengthUnit }) {
  const thinnest = set.blades_mm[0] ?? 0
  const thickest = set.blades_mm.at(-1) ?? thinnest
  return (
    <span className="text-ink-soft">
      <Trans>
        <Plural value={set.blades_mm.length} one="# blade" other="# blades" />,{' '}
        {lengthRange(thinnest, thickest, unit)}, printed in {PRINT_WORDS[set.unit]}
      </Trans>
    </span>
  )
}

type Gap = BladeSet['gaps'][number]['gaps'][number]

function gapWords(gap: Gap, unit: LengthUnit): string {
  const stacks = gap.stacks.map((stack) => stack.map((one) => bladeFigure(one, unit)).join(' + '))
  const filled =
    stacks.length === 0
      ? t`two stacked blades do not fill it`
      : t`filled by ${stacks.join(t` or `)}`
  return t`no blade between ${bladeFigure(gap.from_mm, unit)} and ${length(gap.to_mm, unit)}, ${filled}`
}

/** Where the set is too coarse for a spec, and which two blades held together fill it. */
export function BladeSetGaps({ set, unit }: { set: BladeSet; unit: LengthUnit }) {
  if (set.gaps.length === 0) return null
  return (
    <ul className="mt-1 text-sm">
      {set.gaps.map(({ valves, spec, gaps }) => (
        <li key={valves.join()}>
          <span className="font-semibold">
            <Trans>
              Spec {lengthRange(spec.min_mm, spec.max_mm, unit)} ({valves.join(' ')}):
            </Trans>
          </span>{' '}
          {gaps.length === 0
            ? t`no gap near the spec.`
            : `${gaps.map((gap) => gapWords(gap, unit)).join('; ')}.`}
        </li>
      ))}
    </ul>
  )
}
