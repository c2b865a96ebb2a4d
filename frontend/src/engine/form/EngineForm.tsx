import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMemo, useState } from 'react'
import { FormProvider } from 'react-hook-form'
import type { EngineDetail, FormHelp } from '@/api/client'
import { Button } from '@/design/Button'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { BeginFrom } from './BeginFrom'
import type { EngineDraft } from './draft'
import { EngineSection } from './EngineSection'
import { FiringFields } from './FiringFields'
import { FormFaults } from './FormFaults'
import { specsFor } from './head'
import { HeadFields } from './HeadFields'
import { LeaveGuard } from './LeaveGuard'
import { MoreSection } from './MoreSection'
import { layoutOf } from './schema'
import { SourceFields } from './SourceFields'
import { SpecSection } from './SpecSection'
import { useSavedEngine } from './useSavedEngine'
import { ValvePanel } from './ValvePanel'

/** An engine described anew, or its data changed, with its head drawn as it is filled in. */
export function EngineForm({
  start,
  help,
  detail,
  title,
  draftId = '',
}: {
  start: EngineDraft
  help: FormHelp
  /** The engine whose data are changed; undefined: a new one. */
  detail?: EngineDetail
  title: string
  /** Under which the browser keeps a new engine that is not saved yet. */
  draftId?: string
}) {
  const { unit } = usePreferences()
  const [begunFrom, setBegunFrom] = useState<string>()
  const [selected, setSelected] = useState<string>()
  const saved = useSavedEngine(start, detail, draftId)
  const { draft, form, keep } = saved
  const { valves } = draft.values
  const specs = useMemo(
    () => specsFor({ base: draft.base, values: draft.values }),
    [draft.base, draft.values],
  )
  const valve = valves.find((one) => one.id === selected)

  return (
    <FormProvider {...form}>
      <LeaveGuard unsaved={saved.unsaved} />
      <form
        onSubmit={(event) => {
          event.preventDefault()
          void saved.send()
        }}
        noValidate
        className="mx-auto max-w-[1400px]"
      >
        <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
          <h1>{title}</h1>
          <Button look="main" type="submit" disabled={keep.isPending}>
            {detail ? t`Save` : t`Save engine`}
          </Button>
        </div>
        <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
          <div className="flex flex-col gap-4">
            {!detail && (
              <Sheet
                title={t`Start from`}
                aside={
                  begunFrom && (
                    <span className="text-sm text-ink-soft">
                      <Trans>started from {begunFrom}; check every figure</Trans>
                    </span>
                  )
                }
              >
                <BeginFrom
                  help={help}
                  onBegin={(from, marked) => {
                    saved.begin(from)
                    setBegunFrom(marked)
                  }}
                />
              </Sheet>
            )}
            <Sheet title={t`Engine`}>
              <EngineSection isNew={!detail} />
            </Sheet>
            <Sheet title={t`Cylinder head`}>
              <HeadFields fault={saved.headFault} />
            </Sheet>
            <Sheet title={t`Adjustment and clearance`}>
              <SpecSection isNew={!detail} />
            </Sheet>
            <Sheet title={t`Firing`}>
              <FiringFields usual={help.firing_orders} />
            </Sheet>
            <Sheet title={t`Source of the specs`}>
              <SourceFields />
            </Sheet>
            <Sheet title={t`More data, if known`}>
              <MoreSection />
            </Sheet>
          </div>
          <div className="flex flex-col gap-4 lg:sticky lg:top-4">
            <Sheet
              title={t`Plan of the head`}
              aside={
                <span className="text-sm text-ink-soft">
                  {t`choose a valve to give it its own figures`}
                </span>
              }
            >
              <div className="p-3">
                <HeadPlan
                  valves={valves}
                  layout={layoutOf(draft)}
                  specs={specs}
                  gaps={{}}
                  flags={Object.fromEntries(
                    valves.map((one) => [one.id, one.spec ? t`own spec` : '']),
                  )}
                  unit={unit}
                  selected={selected}
                  onSelect={setSelected}
                  label={t`Plan of the head as entered`}
                  className="max-h-[360px]"
                />
              </div>
              {valve && <ValvePanel key={valve.id} valve={valve} />}
            </Sheet>
            <FormFaults saved={saved} canOverwrite={detail !== undefined} />
          </div>
        </div>
      </form>
    </FormProvider>
  )
}
