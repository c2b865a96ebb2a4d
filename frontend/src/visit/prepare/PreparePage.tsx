import { t } from '@lingui/core/macro'
import { Link } from 'react-router'
import { stepAddress } from '@/api/addresses'
import type { Engine, EngineDetail, Visit } from '@/api/client'
import { BladeSetGaps, BladeSetRange } from '@/blades/BladeSetFacts'
import { buttonClass } from '@/design/Button'
import { usage } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'
import { SavedChoice } from './SavedChoice'
import { SavedField } from './SavedField'
import { VisitElsewhere } from '@/shared/VisitElsewhere'
import { CopyPreparation } from './CopyPreparation'
import { HaveReady } from './HaveReady'
import { PartsRemoved } from './PartsRemoved'
import { Cautions, StepPage } from '@/visit/shared/StepPage'

/** When, at what usage, how cold; what can hurt; what came off; which blades to lay out. */
export function PreparePage() {
  return (
    <StepPage at="prepare" title={t`Prepare`}>
      {(detail, visit) => <Preparing detail={detail} visit={visit} />}
    </StepPage>
  )
}

const neededFigure = (text: string) => {
  const value = typedFigure(text)
  return value === null ? { fault: t`enter what the meter shows` } : { value }
}
const figureOrNone = (text: string) => {
  if (text.trim() === '') return { value: null }
  const value = typedFigure(text)
  return value === null ? { fault: t`must be a number, or empty if not known` } : { value }
}
const textOrNone = (text: string) => ({ value: text.trim() || null })
const neededDay = (text: string) => (text === '' ? { fault: t`enter a date` } : { value: text })
const shown = (value: number | null) => (value === null ? '' : String(value))

function Preparing({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { engine } = detail
  const { unit } = usePreferences()
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Prepare`}</h1>
        <Link to={stepAddress(engine.id, visit.id, 'inspect')} className={buttonClass('main')}>
          {t`Next: Inspect`}
        </Link>
      </div>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div className="flex flex-col gap-4">
          <VisitFields engine={engine} visit={visit} />
        </div>
        <div className="flex flex-col gap-4">
          <Cautions detail={detail} step="prepare" />
          <Sheet
            title={t`Feeler blades needed`}
            aside={
              <Link to={stepAddress(engine.id, visit.id, 'measure')}>{t`change the set`}</Link>
            }
          >
            <div className="px-4 py-2">
              {visit.blade_set ? (
                <>
                  <strong>{visit.blade_set.name}</strong>{' '}
                  <BladeSetRange set={visit.blade_set} unit={unit} />
                  <BladeSetGaps set={visit.blade_set} unit={unit} />
                </>
              ) : (
                <p className="text-ink-soft">
                  {t`No feeler gauge set chosen yet: choose one at Measure.`}
                </p>
              )}
            </div>
          </Sheet>
          <HaveReady engine={engine} />
          <PartsRemoved engineId={engine.id} visit={visit} />
          <p className="no-print flex flex-wrap items-center gap-x-2 text-sm text-ink-soft">
            {t`Wrong engine, or begun by mistake?`}
            <VisitElsewhere engineId={engine.id} visitId={visit.id} label={t`move or delete`} />
          </p>
        </div>
      </div>
    </>
  )
}

/** When, at what usage, how cold, and how the machine was used. */
function VisitFields({ engine, visit }: { engine: Engine; visit: Visit }) {
  const at = { engineId: engine.id, visitId: visit.id }
  const limit = engine.check_below_temperature_c
  return (
    <Sheet
      title={t`Visit`}
      aside={
        !visit.first_of_engine && (
          <CopyPreparation key={visit.id} engineId={engine.id} visitId={visit.id} />
        )
      }
    >
      <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
        <SavedField
          {...at}
          field="usage"
          label={t`The meter shows`}
          unit={engine.usage_unit}
          value={String(visit.meter)}
          stored={visit.meter}
          parse={neededFigure}
          hint={
            visit.meter === visit.usage
              ? undefined
              : t`with earlier meters ${usage(visit.usage, engine.usage_unit)}`
          }
        />
        <SavedField
          {...at}
          field="date"
          label={t`Day`}
          type="date"
          value={visit.date}
          stored={visit.date}
          parse={neededDay}
        />
        <SavedField
          {...at}
          field="temperature_c"
          label={t`Engine temperature (cold-soaked)`}
          unit="°C"
          value={shown(visit.temperature_c)}
          stored={visit.temperature_c}
          parse={figureOrNone}
          suggestionUnit="°C"
          hint={
            limit == null
              ? t`temperature of the air it stood in overnight`
              : t`a cold check is below ${limit} °C`
          }
        />
        <SavedField
          {...at}
          field="last_run_hours_ago"
          label={t`Last run`}
          unit={t`hours ago`}
          value={shown(visit.last_run_hours_ago)}
          stored={visit.last_run_hours_ago}
          parse={figureOrNone}
          hint={t`overnight is best`}
        />
        <SavedField
          {...at}
          field="duty"
          label={t`Use since the last check`}
          value={visit.duty ?? ''}
          stored={visit.duty}
          parse={textOrNone}
          hint={engine.duty ? t`usually: ${engine.duty}` : t`light, mixed, full load for long …`}
        />
        <SavedField
          {...at}
          field="technician"
          label={t`Technician`}
          value={visit.technician ?? ''}
          stored={visit.technician}
          parse={textOrNone}
        />
        <SavedChoice
          {...at}
          field="access"
          label={t`Access for the blade`}
          value={visit.access}
          choices={[
            { id: 'straight', label: t`straight` },
            { id: 'awkward', label: t`at an angle` },
          ]}
        />
        <SavedChoice
          {...at}
          field="work"
          label={t`Work`}
          value={visit.work}
          choices={[
            { id: 'check', label: t`check` },
            { id: 'check-and-set', label: t`check and adjust` },
            { id: 'head-work', label: t`head off` },
          ]}
        />
        <div className="col-span-2">
          <SavedField
            {...at}
            field="notes"
            label={t`Notes`}
            value={visit.notes ?? ''}
            stored={visit.notes}
            parse={textOrNone}
          />
        </div>
      </div>
    </Sheet>
  )
}
