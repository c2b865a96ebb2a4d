import { t } from '@lingui/core/macro'
import { zodResolver } from '@hookform/resolvers/zod'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react'
import { useForm, useWatch, type FieldErrors, type Path } from 'react-hook-form'
import { useNavigate, useSearchParams } from 'react-router'
import { engineAddress, tablesAddress } from '@/api/addresses'
import { api, ProblemError, unwrap, type Engine, type EngineDetail, type Fault } from '@/api/client'
import { engineQuery, enginesQuery } from '@/api/queries'
import { placedValves, type EngineDraft, type EngineValues, type ValveDraft } from './draft'
import { fieldOf } from './fieldNames'
import { useHead } from './head'
import { forgetDraft, keepDraft } from './keptDrafts'
import { engineSchema, idFor } from './schema'

/** What a field is called on the page. */
function labelOf(name: string, input: unknown, valves: ValveDraft[]): string {
  const [part = '', at] = name.split('.')
  if (part === 'intake' || part === 'exhaust')
    return part === 'intake' ? t`Intake, cold` : t`Exhaust, cold`
  const label =
    input instanceof Element && 'labels' in input ? (input as HTMLInputElement).labels : null
  return (
    label?.[0]?.textContent ?? (part === 'valves' ? t`Valve ${valves[Number(at)]?.id ?? ''}` : '')
  )
}

type Found = Fault & { input: unknown }

/** From the top of the page down; what has no input there comes last. */
function asOnThePage({ input: a }: Found, { input: b }: Found): number {
  if (!(a instanceof Node) || !(b instanceof Node))
    return Number(b instanceof Node) - Number(a instanceof Node)
  return a.compareDocumentPosition(b) & Node.DOCUMENT_POSITION_FOLLOWING ? -1 : 1
}

/** Every fault of the form, wherever it is. */
function faultsIn(errors: unknown, valves: ValveDraft[], at = ''): Found[] {
  if (typeof errors !== 'object' || errors === null) return []
  if ('message' in errors && typeof errors.message === 'string') {
    const ref = 'ref' in errors ? errors.ref : undefined
    const input = ref ?? document.getElementsByName(at)[0]
    const label = labelOf(at, ref, valves)
    return [{ path: at, message: errors.message, label, suggestion: null, input }]
  }
  return Object.entries(errors).flatMap(([key, one]) =>
    key === 'ref' ? [] : faultsIn(one, valves, at ? `${at}.${key}` : key),
  )
}

/** The form of an engine: what is typed, the head that follows from it, and how it is kept. */
export function useSavedEngine(
  start: EngineDraft,
  detail: EngineDetail | undefined,
  draftId: string,
) {
  const navigate = useNavigate()
  // Where to go once it is saved: to its page, or to the import of its notebook.
  const goOn = useSearchParams()[0].get('then')
  const queryClient = useQueryClient()
  const { data: engines = [] } = useQuery(enginesQuery)
  const [base, setBase] = useState(start.base)
  const [headTouched, setHeadTouched] = useState(false)
  // The one that this edit began from: what others change meanwhile must not pass for it. Undefined: the newest.
  const [revision, setRevision] = useState<number | undefined>(detail?.revision ?? 0)
  const id = detail?.engine.id
  const form = useForm<EngineValues, unknown, Engine>({
    defaultValues: start.values,
    resolver: (values, context, options) =>
      zodResolver(engineSchema({ base, values }))(values, context, options),
  })
  const saved = useRef(false)
  const { isDirty } = form.formState
  const values = useWatch({ control: form.control }) as EngineValues
  const head = useHead(values.head, headTouched)

  const keep = useMutation({
    mutationFn: async ({ engine, confirmed }: { engine: Engine; confirmed: string[] }) => {
      const body = { engine: engine as unknown as Record<string, never>, confirmed }
      if (!detail) return unwrap(api.POST('/api/engines', { body }))
      const newest = { ...engineQuery(detail.engine.id), staleTime: 0 }
      const from = revision ?? (await queryClient.fetchQuery(newest)).revision
      return unwrap(
        api.PUT('/api/engines/{engine_id}', {
          params: { path: { engine_id: detail.engine.id } },
          body: { ...body, revision: from },
        }),
      )
    },
    onError: (error) => {
      // What others changed is fetched, so that it can be shown and overruled.
      void queryClient.invalidateQueries({ queryKey: ['engines', id] })
      if (!(error instanceof ProblemError) || error.asked) return
      for (const { path, message } of error.faults) {
        const field = fieldOf(path)
        if (field) form.setError(field as Path<EngineValues>, { type: 'server', message })
      }
    },
    onSuccess: async (kept) => {
      saved.current = true
      forgetDraft(draftId)
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
      await navigate(
        goOn === 'import' ? tablesAddress(kept.engine.id) : engineAddress(kept.engine.id),
      )
    },
  })

  const { reset: forget } = keep
  const isNew = detail === undefined
  useEffect(
    () =>
      form.subscribe({
        formState: { values: true },
        callback: ({ name }) => {
          forget()
          // Only what was typed: a template that was chosen is soon chosen again.
          if (isNew && name) keepDraft(draftId, { base, values: form.getValues() })
          if (name?.startsWith('head')) setHeadTouched(true)
        },
      }),
    [form, forget, isNew, draftId, base],
  )
  // Before it is drawn, so that the plan never shows valves that the form no longer describes.
  const placed = headTouched && !head.isPlaceholderData ? head.data : undefined
  useLayoutEffect(() => {
    if (placed) form.setValue('valves', placedValves(form.getValues('valves'), placed))
  }, [form, placed])

  const send = (confirmed: string[] = []) =>
    form.handleSubmit((engine) => {
      const taken = engines.map((one) => one.id)
      keep.mutate({ engine: { ...engine, id: id ?? idFor(engine.name ?? '', taken) }, confirmed })
    })()

  const refused = keep.error instanceof ProblemError ? keep.error : undefined
  const own = faultsIn(form.formState.errors as FieldErrors, values.valves).sort(asOnThePage)
  return {
    form,
    draft: { base, values },
    /** Begin again from another description; what it is called stays. */
    begin(from: EngineDraft) {
      setBase(from.base)
      form.reset({ ...from.values, texts: { ...from.values.texts, name: values.texts.name } })
      setHeadTouched(false)
    },
    headFault: headTouched && head.error instanceof Error ? head.error.message : undefined,
    keep,
    send,
    refused,
    faults: refused && !refused.asked ? refused.faults : own,
    /** Whether changes would be lost by leaving; a new engine is kept by the browser. */
    unsaved: useCallback(() => !isNew && isDirty && !saved.current, [isNew, isDirty]),
    overwrite() {
      keep.reset()
      form.clearErrors()
      setRevision(undefined)
    },
  }
}
