import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useState, type FormEvent } from 'react'
import { useNavigate } from 'react-router'
import { engineAddress } from '@/api/addresses'
import {
  api,
  ProblemError,
  unwrap,
  type EngineDetail,
  type Fault,
  type FormHelp,
  type PlacedValve,
} from '@/api/client'
import { enginesQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { ErrorNotice } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Questions } from '@/shared/Questions'
import { Sheet } from '@/design/Sheet'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { BeginFrom } from './BeginFrom'
import { buildEngine, idFor } from './build'
import { withValves, type EngineDraft, type FigureKey } from './draft'
import { SelectField } from '@/design/SelectField'
import { FigureOf, FormContext, TextOf, useForm } from './fields'
import { FiringFields } from './FiringFields'
import { HeadFields } from './HeadFields'
import { MoreSection } from './MoreSection'
import { SpecSection } from './SpecSection'
import { specsFor, useHead } from './head'
import { ValvePanel } from './ValvePanel'

const OTHER_UNIT = { mm: 'thou', thou: 'mm' } as const

/** An engine described anew, or its data changed, with its head drawn as it is filled in. */
export function EngineForm({
  start,
  help,
  detail,
  title,
}: {
  start: EngineDraft
  help: FormHelp
  /** The engine whose data are changed; undefined: a new one. */
  detail?: EngineDetail
  title: string
}) {
  const { unit } = usePreferences()
  const navigate = useNavigate()
  const queryClient = useQueryClient()
  const { data: engines = [] } = useQuery(enginesQuery)
  const [draft, setDraft] = useState(start)
  const [begunFrom, setBegunFrom] = useState<string>()
  const [headTouched, setHeadTouched] = useState(false)
  const [checked, setChecked] = useState(false)
  const [selected, setSelected] = useState<string>()
  const id = detail?.engine.id
  // The one that this edit began from: what others change meanwhile must not pass for it.
  const [revision, setRevision] = useState(detail?.revision ?? 0)
  const head = useHead(draft, headTouched)

  // Done while drawing, so that the plan never shows valves that the form no longer describes.
  const [taken, setTaken] = useState<PlacedValve[]>()
  if (headTouched && head.data && !head.isPlaceholderData && head.data !== taken) {
    setTaken(head.data)
    setDraft(withValves(draft, head.data))
  }

  const keep = useMutation({
    mutationFn: ({ engine, confirmed }: { engine: object; confirmed: string[] }) => {
      const body = { engine: engine as Record<string, never>, confirmed }
      return detail
        ? unwrap(
            api.PUT('/api/engines/{engine_id}', {
              params: { path: { engine_id: detail.engine.id } },
              body: { ...body, revision },
            }),
          )
        : unwrap(api.POST('/api/engines', { body }))
    },
    // What others changed is fetched, so that it can be shown and overruled.
    onError: () => void queryClient.invalidateQueries({ queryKey: ['engines', id] }),
    onSuccess: async (kept) => {
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      await navigate(engineAddress(kept.engine.id))
    },
  })

  function change(part: Partial<EngineDraft>) {
    keep.reset()
    if (part.head) setHeadTouched(true)
    setDraft((before) => ({ ...before, ...part }))
  }

  function built(from = draft) {
    const name = from.texts.name
    return buildEngine(
      from,
      id ??
        idFor(
          name,
          engines.map((one) => one.id),
        ),
    )
  }

  function send(confirmed: string[] = [], from = draft) {
    setChecked(true)
    const { engine, faults } = built(from)
    if (faults.length === 0) keep.mutate({ engine, confirmed })
  }

  function submit(event: FormEvent) {
    event.preventDefault()
    send()
  }

  const refused = keep.error instanceof ProblemError ? keep.error : undefined
  const faults: Fault[] = [
    ...(checked ? built().faults : []),
    ...(refused && !refused.asked ? refused.faults : []),
  ]
  const specs = useMemo(() => specsFor(draft), [draft])
  const headFault = head.error instanceof Error ? head.error.message : undefined
  const valve = draft.valves.find((one) => one.id === selected)

  /** Take what was probably meant: another unit for the whole spec, a figure for anything else. */
  function take(path: string, figure: number) {
    if (/spec/.test(path)) change({ unit: OTHER_UNIT[draft.unit] })
    else {
      const key = path.replace('$.engine.', '') as FigureKey
      change({ figures: { ...draft.figures, [key]: String(figure) } })
    }
  }

  return (
    <FormContext value={{ draft, change, faults }}>
      <form onSubmit={submit} noValidate className="mx-auto max-w-[1400px]">
        <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
          <h1>{title}</h1>
          <Button look="main" type="submit" disabled={keep.isPending}>
            {detail ? 'Save' : 'Save engine'}
          </Button>
        </div>
        <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
          <div className="flex flex-col gap-4">
            {!detail && (
              <Sheet
                title="Start from"
                aside={
                  begunFrom && (
                    <span className="text-sm text-ink-soft">
                      started from {begunFrom}; check every figure
                    </span>
                  )
                }
              >
                <BeginFrom
                  help={help}
                  onBegin={(from, marked) => {
                    setDraft({ ...from, texts: { ...from.texts, name: draft.texts.name } })
                    setBegunFrom(marked)
                    setHeadTouched(false)
                    setTaken(undefined)
                  }}
                />
              </Sheet>
            )}
            <Sheet title="Engine">
              <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4 sm:grid-cols-3">
                <TextOf name="name" label="Name" autoFocus={!detail} />
                <TextOf name="fuel" label="Fuel" hint="petrol, diesel, gas …" />
                <TextOf name="duty" label="Duty" hint="its usual work" />
                <SelectField
                  label="Usage counted in"
                  value={draft.usage_unit}
                  choices={[
                    { id: 'h', label: 'hours' },
                    { id: 'km', label: 'kilometres' },
                    { id: 'mi', label: 'miles' },
                  ]}
                  onChange={(usage_unit) => change({ usage_unit })}
                />
                <SelectField
                  label="Starting"
                  value={draft.starting}
                  choices={[
                    { id: '', label: 'not known' },
                    { id: 'electric', label: 'electric starter' },
                    { id: 'rope', label: 'rope' },
                    { id: 'kick', label: 'kick' },
                    { id: 'hand-crank', label: 'hand crank' },
                  ]}
                  onChange={(starting) => change({ starting })}
                />
                <FigureOf name="check_interval" label="Check every" unit={draft.usage_unit} />
                <FigureOf
                  name="access_minutes"
                  label="Access time"
                  unit="min"
                  hint="removing and refitting covers"
                />
              </div>
            </Sheet>
            <Sheet title="Cylinder head">
              <HeadFields fault={headTouched ? headFault : undefined} />
            </Sheet>
            <Sheet title="Adjustment and clearance">
              <SpecSection isNew={!detail} />
            </Sheet>
            <Sheet title="Firing">
              <FiringFields usual={help.firing_orders} />
            </Sheet>
            <Sheet title="Source of the specs">
              <SourceFields />
            </Sheet>
            <Sheet title="More data, if known">
              <MoreSection />
            </Sheet>
          </div>
          <div className="flex flex-col gap-4 lg:sticky lg:top-4">
            <Sheet
              title="Plan of the head"
              aside={
                <span className="text-sm text-ink-soft">
                  choose a valve to give it its own figures
                </span>
              }
            >
              <div className="p-3">
                <HeadPlan
                  valves={draft.valves}
                  layout={buildEngine(draft, 'draft').engine.layout}
                  specs={specs}
                  gaps={{}}
                  flags={Object.fromEntries(
                    draft.valves.map((one) => [one.id, one.spec ? 'own spec' : '']),
                  )}
                  unit={unit}
                  selected={selected}
                  onSelect={setSelected}
                  label="Plan of the head as entered"
                  className="max-h-[360px]"
                />
              </div>
              {valve && <ValvePanel valve={valve} />}
            </Sheet>
            {keep.error && refused?.asked && (
              <Questions
                error={keep.error}
                suggestionText={(figure, path) =>
                  /spec/.test(path) ? `the spec as ${OTHER_UNIT[draft.unit]}` : `${figure} °C`
                }
                onUse={take}
                onConfirm={(paths) => send(paths)}
              />
            )}
            {keep.error && !refused?.asked && <ErrorNotice error={keep.error} />}
            {detail && refused?.status === 409 && (
              <Button
                onClick={() => {
                  keep.reset()
                  setRevision(detail.revision)
                }}
              >
                Overwrite with mine: save again
              </Button>
            )}
            {!keep.error && faults.length > 0 && <FaultList faults={faults} />}
            {checked && built().unitDoubt && (
              <Button onClick={() => change({ unit: OTHER_UNIT[draft.unit] })}>
                Use {OTHER_UNIT[draft.unit]}
              </Button>
            )}
          </div>
        </div>
      </form>
    </FormContext>
  )
}

function SourceFields() {
  const {
    draft: { source },
    change,
  } = useForm()
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
      <Field
        label="Manual or plate"
        value={source.title}
        onChange={(event) => change({ source: { ...source, title: event.target.value } })}
      />
      <Field
        label="Page"
        value={source.page}
        onChange={(event) => change({ source: { ...source, page: event.target.value } })}
      />
      {source.title.trim() === '' && (
        <p className="col-span-2 font-semibold text-loose">
          No source given: every figure is marked “source not given” wherever it is shown.
        </p>
      )}
    </div>
  )
}

function FaultList({ faults }: { faults: Fault[] }) {
  return (
    <div role="alert" className="rounded-card border-2 border-tight bg-sheet p-3">
      <p className="font-semibold text-tight">
        {faults.length === 1 ? '1 field is' : `${faults.length} fields are`} still to be fixed
      </p>
      <ul className="mt-1 list-disc pl-5 text-sm">
        {faults.map((fault) => (
          <li key={fault.path}>
            {fault.label && <strong>{fault.label}: </strong>}
            {fault.message}
          </li>
        ))}
      </ul>
    </div>
  )
}
