import { t } from '@lingui/core/macro'
import { Button } from '@/design/Button'
import { bladeFigure, type LengthUnit } from '@/design/format'
import { thicknessMm } from '@/blades/bladeChoice'
import type { TypedAnswer } from '@/blades/typedReading'
import { TypedBlade } from './TypedBlade'

/** What is in the hand, and the ways to another blade: stacked or typed. */
export function HandLine({
  hand,
  advised,
  stacked,
  bladesMm,
  unit,
  typing,
  onTyping,
  onStack,
  onTyped,
  onRead,
}: {
  hand: number[]
  advised: boolean
  stacked: boolean
  bladesMm: number[]
  unit: LengthUnit
  typing: boolean
  onTyping: (typing: boolean) => void
  onStack: () => void
  onTyped: (bladesMm: number[]) => void
  onRead: (answers: TypedAnswer[]) => void
}) {
  if (typing) {
    return (
      <TypedBlade
        bladesMm={bladesMm}
        unit={unit}
        onTyped={onTyped}
        onRead={onRead}
        onLeave={() => onTyping(false)}
      />
    )
  }
  return (
    <div className="flex flex-wrap items-center justify-center gap-x-1 md:-mt-3">
      <p className="text-lg max-md:text-2xl max-md:leading-tight" aria-live="polite">
        {hand.length > 1 && `${hand.map((blade) => bladeFigure(blade, unit)).join(' + ')} = `}
        <strong>
          {bladeFigure(thicknessMm(hand), unit)} {unit}
        </strong>
        {advised && (
          <span className="text-accent">
            {hand.length > 1 ? t`, recommended: ${hand.length} blades stacked` : t`, recommended`}
          </span>
        )}
      </p>
      <Button look="quiet" className="min-h-12 px-2!" onClick={onStack}>
        {stacked ? t`remove one` : t`stack one more`}
        <Key name={stacked ? '−' : '+'} />
      </Button>
      <Button look="quiet" className="min-h-12 px-2!" onClick={() => onTyping(true)}>
        {t`type a blade`}
        <Key name="B" />
      </Button>
    </div>
  )
}

/** The key for it, where there is likely a keyboard. */
function Key({ name }: { name: string }) {
  return <span className="max-lg:hidden">( {name} )</span>
}
