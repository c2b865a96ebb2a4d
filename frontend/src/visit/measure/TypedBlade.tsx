import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState, type FormEvent } from 'react'
import { Button } from '@/design/Button'
import { bladeFigure, length, type LengthUnit } from '@/design/format'
import { bladesFault, typedBladesMm } from '@/design/typedLength'
import { nearest, placeOf } from '@/blades/bladeChoice'
import { typedReading, type TypedAnswer } from '@/blades/typedReading'

const THICKEST_MM = 5

/** What was typed and has a blade that is not of the set: asked about before it is believed. */
type Asked = { bladesMm: number[] } | { answers: TypedAnswer[] }

function bladesOf(asked: Asked): number[] {
  return 'answers' in asked ? asked.answers.flatMap((one) => one.bladesMm) : asked.bladesMm
}

/** A blade by its figure, to be tried; or a reading as written on paper, stored as its answers. */
export function TypedBlade({
  bladesMm,
  unit,
  onTyped,
  onRead,
  onLeave,
}: {
  bladesMm: number[]
  unit: LengthUnit
  onTyped: (bladesMm: number[]) => void
  onRead: (answers: TypedAnswer[]) => void
  onLeave: () => void
}) {
  const [text, setText] = useState('')
  const [asked, setAsked] = useState<Asked | null>(null)
  const [fault, setFault] = useState('')
  const foreign = asked && bladesOf(asked).find((blade) => placeOf(bladesMm, blade) < 0)
  const near = foreign == null ? undefined : bladesMm[nearest(bladesMm, foreign)]

  function take(typed: Asked) {
    if ('answers' in typed) onRead(typed.answers)
    else onTyped(typed.bladesMm)
  }

  function submit(event: FormEvent) {
    event.preventDefault()
    const reading = typedReading(text, unit)
    if (reading.kind === 'fault') return setFault(reading.fault)
    const blades = typedBladesMm(text, unit)
    const typed: Asked | undefined =
      reading.kind === 'reading'
        ? { answers: reading.answers }
        : blades
          ? { bladesMm: blades }
          : undefined
    if (!typed) {
      setFault(bladesFault(text, unit) ?? t`‘${text}’ is no blade`)
    } else if (bladesOf(typed).some((blade) => blade > THICKEST_MM)) {
      setFault(t`‘${text}’ is thicker than any blade`)
    } else if (bladesOf(typed).some((blade) => placeOf(bladesMm, blade) < 0)) {
      setAsked(typed)
    } else {
      take(typed)
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
        aria-label={t`Blade or reading, ${unit}`}
        aria-describedby="typed-blade-hint"
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
      {asked && foreign != null ? (
        <span role="alert" className="flex flex-wrap items-center gap-2 text-loose">
          <span className="text-sm font-semibold">
            <Trans>No {length(foreign, unit)} blade in this set.</Trans>
          </span>
          {near !== undefined && 'bladesMm' in asked && (
            <Button className="min-h-12" onClick={() => onTyped([near])}>
              <Trans>
                Use {bladeFigure(near, unit)} {unit}
              </Trans>
            </Button>
          )}
          <Button className="min-h-12" onClick={() => take(asked)}>
            {t`Confirm value`}
          </Button>
        </span>
      ) : (
        <>
          <Button type="submit" className="min-h-12">
            {t`Use it ( Enter )`}
          </Button>
          <Button look="quiet" className="min-h-12" onClick={onLeave}>
            {t`Cancel`}
          </Button>
        </>
      )}
      {fault ? (
        <p role="alert" className="w-full text-sm text-tight">
          {fault}
        </p>
      ) : (
        <p id="typed-blade-hint" className="w-full text-sm text-ink-soft">
          {unit === 'mm'
            ? t`Or a reading, stored at once: 0.13-0.15 (went, would not go), <0.04, >0.40, =0.13 (drags)`
            : t`Or a reading, stored at once: 5-6 (went, would not go), <2, >16, =5 (drags)`}
        </p>
      )}
    </form>
  )
}
