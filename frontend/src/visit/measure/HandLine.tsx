import { useState, type FormEvent } from 'react'
import { Button } from '@/design/Button'
import { bladeFigure, length, type LengthUnit } from '@/design/format'
import { bladesFault, typedBladesMm } from '@/design/typedLength'
import { nearest, placeOf, thicknessMm } from '@/blades/bladeChoice'

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
}: {
  hand: number[]
  advised: boolean
  stacked: boolean
  bladesMm: number[]
  unit: LengthUnit
  typing: boolean
  onTyping: (typing: boolean) => void
  onStack: () => void
  onTyped: (bladesMm: number[], entered: string) => void
}) {
  if (typing) {
    return (
      <TypedBlade
        bladesMm={bladesMm}
        unit={unit}
        onTyped={onTyped}
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
            {hand.length > 1 ? `, recommended: ${hand.length} blades stacked` : ', recommended'}
          </span>
        )}
      </p>
      <Button look="quiet" className="min-h-12 px-2!" onClick={onStack}>
        {stacked ? 'remove one' : 'stack one more'}
        <Key name={stacked ? '−' : '+'} />
      </Button>
      <Button look="quiet" className="min-h-12 px-2!" onClick={() => onTyping(true)}>
        type a blade
        <Key name="B" />
      </Button>
    </div>
  )
}

/** The key for it, where there is likely a keyboard. */
function Key({ name }: { name: string }) {
  return <span className="max-lg:hidden">( {name} )</span>
}

/** A blade by its figure: of the set, or of none, which is asked about before it is believed. */
function TypedBlade({
  bladesMm,
  unit,
  onTyped,
  onLeave,
}: {
  bladesMm: number[]
  unit: LengthUnit
  onTyped: (bladesMm: number[], entered: string) => void
  onLeave: () => void
}) {
  const [text, setText] = useState('')
  const [asked, setAsked] = useState<number[] | null>(null)
  const [fault, setFault] = useState('')
  const foreign = asked?.find((blade) => placeOf(bladesMm, blade) < 0)
  const near = foreign === undefined ? undefined : bladesMm[nearest(bladesMm, foreign)]

  function submit(event: FormEvent) {
    event.preventDefault()
    const typed = typedBladesMm(text, unit)
    if (!typed || typed.some((blade) => blade > 5)) {
      setFault(bladesFault(text, unit) ?? `'${text}' is thicker than any blade`)
    } else if (typed.some((blade) => placeOf(bladesMm, blade) < 0)) {
      setAsked(typed)
    } else {
      onTyped(typed, text.trim())
    }
  }

  return (
    <form
      onSubmit={submit}
      onKeyDown={(event) => event.key === 'Escape' && onLeave()}
      className="-mt-2 flex flex-wrap items-center gap-2"
      noValidate
    >
      <input
        autoFocus
        aria-label={`Blade, ${unit}`}
        aria-invalid={fault !== ''}
        placeholder={unit === 'mm' ? '0.15, 0.20+0.08, 6 thou' : '6, 8+3, 0.15 mm'}
        value={text}
        maxLength={80}
        onChange={(event) => {
          setText(event.target.value)
          setAsked(null)
          setFault('')
        }}
        className="min-h-12 w-56 rounded-card border border-rule-strong bg-sheet px-3 placeholder:text-ink-soft"
      />
      {asked && foreign !== undefined ? (
        <span role="alert" className="flex flex-wrap items-center gap-2 text-loose">
          <span className="text-sm font-semibold">
            No {length(foreign, unit)} blade in this set.
          </span>
          {near !== undefined && (
            <Button className="min-h-12" onClick={() => onTyped([near], `${near} mm`)}>
              Use {bladeFigure(near, unit)} {unit}
            </Button>
          )}
          <Button className="min-h-12" onClick={() => onTyped(asked, text.trim())}>
            Confirm value
          </Button>
        </span>
      ) : (
        <>
          <Button type="submit" className="min-h-12">
            Use it ( Enter )
          </Button>
          <Button look="quiet" className="min-h-12" onClick={onLeave}>
            Cancel
          </Button>
        </>
      )}
      {fault && (
        <p role="alert" className="w-full text-sm text-tight">
          {fault}
        </p>
      )}
    </form>
  )
}
