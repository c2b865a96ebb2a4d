import { t } from '@lingui/core/macro'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import type { FormHelp } from '@/api/client'
import { useGaugeUnits } from '@/shared/gaugeUnits'
import { engineQuery, enginesQuery } from '@/api/queries'
import { ImportRecord } from '@/shared/ImportRecord'
import { copyOf, type EngineDraft } from './draft'
import { SelectField } from '@/design/SelectField'

/** What a description begins from: a pattern, another engine of the workshop, or a record file. */
export function BeginFrom({
  help,
  onBegin,
}: {
  help: FormHelp
  onBegin: (draft: EngineDraft, marked: string) => void
}) {
  const queryClient = useQueryClient()
  const { data: engines = [] } = useQuery(enginesQuery)
  const { pressure } = useGaugeUnits()

  function pattern(id: string) {
    const chosen = help.patterns.find((one) => one.id === id)
    if (chosen) onBegin(copyOf(chosen.engine, pressure), t`the template ‘${chosen.label}’`)
  }

  async function copy(id: string) {
    if (!id) return
    const { engine } = await queryClient.fetchQuery(engineQuery(id))
    onBegin(copyOf(engine, pressure), engine.name ?? engine.id)
  }

  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
      <SelectField
        label={t`Template`}
        value=""
        choices={[
          { id: '', label: t`choose one …` },
          ...help.patterns.map((one) => ({ id: one.id, label: one.label })),
        ]}
        onChange={pattern}
      />
      <SelectField
        label={t`Copy of`}
        value=""
        choices={[
          { id: '', label: t`choose an engine …` },
          ...engines.map((one) => ({ id: one.id, label: one.name })),
        ]}
        onChange={(id) => void copy(id)}
      />
      <div className="col-span-2">
        <ImportRecord />
      </div>
    </div>
  )
}
