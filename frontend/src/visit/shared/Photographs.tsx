import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useParams } from 'react-router'
import { visitPhotographAddress, type StepName } from '@/api/addresses'
import { newId, whenTaken, withoutSent, type Engine, type VisitPhotograph } from '@/api/client'
import { Button } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { ErrorNotice } from '@/design/Notice'
import { Popup } from '@/design/Popup'
import { pictureFault, PICTURE_TYPES } from '@/design/pictures'
import {
  photographsQuery,
  useAddPhotograph,
  useCaption,
  useRemovePhotograph,
} from '@/shared/photographQueries'
import { usePictureSource } from '@/shared/keptPicture'
import { STEP_LABELS } from './stepLabels'

const INPUT = 'min-h-11 rounded-card border border-rule-strong bg-sheet px-3'

type Props = { engine: Engine; visitId: string; step: StepName }

/** How many photographs the visit has; opened they are shown, and more are taken. */
export function PhotographsButton(props: Props) {
  const [open, setOpen] = useState(false)
  const { data = [] } = useQuery(photographsQuery(props.engine.id, props.visitId))
  return (
    <>
      <button
        type="button"
        className="min-h-11 text-accent underline md:min-h-0"
        onClick={() => setOpen(true)}
      >
        {data.length === 0 ? t`Add a photo` : t`Photos (${data.length})`}
      </button>
      {open && (
        <Popup title={t`Photos of this visit`} wide onClose={() => setOpen(false)}>
          <Photographs {...props} photographs={data} />
        </Popup>
      )}
    </>
  )
}

function Photographs({
  engine,
  visitId,
  step,
  photographs,
}: Props & { photographs: VisitPhotograph[] }) {
  const { valveId = '' } = useParams()
  const [valve, setValve] = useState(valveId)
  const [text, setText] = useState('')
  const [fault, setFault] = useState<Error>()
  const add = useAddPhotograph(engine.id, visitId)
  const error = fault ?? add.error

  function take(file: File) {
    const wrong = pictureFault(file)
    setFault(wrong)
    if (wrong) return
    add.mutate(
      { id: newId(), step, file, valve: valve || null, text },
      whenTaken(() => setText(withoutSent(text))),
    )
  }

  return (
    <>
      <div className="flex flex-wrap items-end gap-2 border-b border-rule pb-3">
        <ValveChoice engine={engine} label={t`Valve`} value={valve} onChange={setValve} />
        <label className="flex min-w-40 flex-1 flex-col text-sm font-semibold">
          {t`Caption`}
          <input
            value={text}
            maxLength={500}
            onChange={(event) => setText(event.target.value)}
            className={`${INPUT} text-base font-normal`}
          />
        </label>
        <FileButton
          label={t`Photo from the camera`}
          accept={PICTURE_TYPES}
          capture
          disabled={add.isPending}
          onFile={take}
        >
          {t`Take photo`}
        </FileButton>
        <FileButton
          label={t`Photo from a file`}
          accept={PICTURE_TYPES}
          disabled={add.isPending}
          onFile={take}
        >
          {t`Choose a file`}
        </FileButton>
        {add.isPending && <p role="status">{t`Saving…`}</p>}
      </div>
      {error && <ErrorNotice error={error} />}
      {photographs.length === 0 && (
        <p className="py-3 text-ink-soft">
          {t`None yet. A photo is turned upright, made smaller, and stripped of where it was taken.`}
        </p>
      )}
      <ul className="grid gap-3 pt-3 sm:grid-cols-2">
        {photographs.map((one) => (
          <Kept key={one.id} engine={engine} visitId={visitId} one={one} />
        ))}
      </ul>
    </>
  )
}

function Kept({ engine, visitId, one }: { engine: Engine; visitId: string; one: VisitPhotograph }) {
  const caption = useCaption(engine.id, visitId)
  const remove = useRemovePhotograph(engine.id, visitId)
  const [text, setText] = useState(one.text)
  const [asked, setAsked] = useState(false)
  const address = usePictureSource(visitPhotographAddress(engine.id, visitId, one.id))
  const was = { valve: one.valve, text: one.text, on_card: one.on_card }
  const named = one.text || one.valve || t`photo`
  const error = caption.error ?? remove.error

  return (
    <li className="flex flex-col gap-1 border border-rule p-2">
      <a href={address} target="_blank" rel="noreferrer">
        <img
          src={address}
          alt={named}
          loading="lazy"
          className="h-44 w-full bg-paper object-contain"
        />
      </a>
      <input
        aria-label={t`Caption of: ${named}`}
        placeholder={t`caption`}
        value={text}
        maxLength={500}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => {
          if (text.trim() !== one.text) caption.mutate({ id: one.id, ...was, text, was })
        }}
        className={`${INPUT} placeholder:text-ink-soft`}
      />
      <div className="flex flex-wrap items-center gap-x-3 text-sm">
        <ValveChoice
          engine={engine}
          label={t`Valve of: ${named}`}
          hidden
          value={one.valve ?? ''}
          onChange={(valve) => caption.mutate({ id: one.id, ...was, valve: valve || null, was })}
        />
        <span className="text-ink-soft">{STEP_LABELS[one.step]}</span>
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-accent"
            checked={one.on_card}
            onChange={(event) =>
              caption.mutate({ id: one.id, ...was, on_card: event.target.checked, was })
            }
          />
          {t`on the job card`}
        </label>
        <Button
          look="quiet"
          className="ml-auto px-2!"
          aria-label={asked ? t`Confirm: remove ${named}` : t`Remove ${named}`}
          disabled={remove.isPending}
          onClick={() => (asked ? remove.mutate(one.id) : setAsked(true))}
          onBlur={() => setAsked(false)}
        >
          {asked ? t`really remove?` : t`remove`}
        </Button>
      </div>
      {error && <ErrorNotice error={error} />}
    </li>
  )
}

function ValveChoice({
  engine,
  label,
  hidden = false,
  value,
  onChange,
}: {
  engine: Engine
  label: string
  /** Said to a screen reader only. */
  hidden?: boolean
  value: string
  onChange: (valve: string) => void
}) {
  return (
    <label className="flex flex-col text-sm font-semibold">
      <span className={hidden ? 'sr-only' : ''}>{label}</span>
      <select
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className={`${INPUT} text-base font-normal`}
      >
        <option value="">{t`no valve`}</option>
        {engine.valves.map((one) => (
          <option key={one.id} value={one.id}>
            {one.id}
          </option>
        ))}
      </select>
    </label>
  )
}
