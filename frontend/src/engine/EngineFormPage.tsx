import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useParams } from 'react-router'
import { newId } from '@/api/client'
import { engineQuery, formHelpQuery, workshopSettingsQuery } from '@/api/queries'
import { ErrorNotice, Loading } from '@/design/Notice'
import { useTitle } from '@/design/useTitle'
import { copyOf, draftOf, type EngineDraft } from '@/engine/form/draft'
import { EngineForm } from '@/engine/form/EngineForm'
import { KeptDraftsNotice } from '@/engine/form/KeptDraftsNotice'
import { MeterChanges } from './MeterChanges'

/** A new engine; it begins as the plainest of the patterns, without its figures. */
export function NewEnginePage() {
  const { data: help, error } = useQuery(formHelpQuery)
  const settings = useQuery(workshopSettingsQuery)
  // What was begun before and is gone on with; else a new one.
  const [begun, setBegun] = useState<{ id: string; draft?: EngineDraft }>(() => ({ id: newId() }))
  useTitle(t`New engine`)
  if (!help || settings.isPending)
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the form`} />
  const first = help.patterns[0]
  if (!first) return <ErrorNotice error={t`No template to start from.`} />
  const { valves, usage_unit, adjustment, layout } = first.engine
  const none = { min_mm: null, max_mm: null, figure_mm: null }
  const { base, values } = copyOf(
    {
      id: '',
      name: '',
      usage_unit,
      adjustment,
      layout,
      valves,
      check_interval: first.engine.check_interval,
      spec: { intake: none, exhaust: none },
      kit: [],
      meter_changes: [],
      usage_readings: [],
      spec_changes: [],
    },
    settings.data?.pressure_unit ?? 'kPa',
  )
  // Every figure is the manual's to say, the temperature that they are stated for among them.
  const figures = { ...values.figures, check_interval: '' }
  const blank = { base, values: { ...values, figures } }
  return (
    <>
      <KeptDraftsNotice onContinue={setBegun} />
      <EngineForm
        key={begun.id}
        draftId={begun.id}
        start={begun.draft ?? blank}
        help={help}
        title={t`New engine`}
      />
    </>
  )
}

/** The data of an engine that is there. */
export function EngineDataPage() {
  const { engineId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const help = useQuery(formHelpQuery)
  const settings = useQuery(workshopSettingsQuery)
  const name = engine.data?.engine.name ?? engineId
  useTitle(t`Edit engine: ${name}`)
  const error = engine.error ?? help.error
  if (!engine.data || !help.data || settings.isPending) {
    return error ? <ErrorNotice error={error} /> : <Loading what={t`the engine`} />
  }
  return (
    <>
      <EngineForm
        key={engineId}
        start={draftOf(engine.data.engine, settings.data?.pressure_unit ?? 'kPa')}
        detail={engine.data}
        help={help.data}
        title={t`Edit engine: ${name}`}
      />
      <MeterChanges detail={engine.data} />
    </>
  )
}
