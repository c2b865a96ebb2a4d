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
    <StepPage at="prepare" title="Prepare">
      {(detail, visit) => <Preparing detail={detail} visit={visit} />}
    </StepPage>
  )
}

const neededFigure = (text: string) => {
  const value = typedFigure(text)
  return value === null ? { fault: 'enter what the meter shows' } : { value }
}
const figureOrNone = (text: string) => {
  if (text.trim() === '') return { value: null }
  const value = typedFigure(text)
  return value === null ? { fault: 'must be a number, or empty if not known' } : { value }
}
const textOrNone = (text: string) => ({ value: text.trim() || null })
const neededDay = (text: string) => (text === '' ? { fault: 'enter a date' } : { value: text })
const shown = (value: number | null) => (value === null ? '' : String(value))

function Preparing({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { engine } = detail
  const { unit } = usePreferences()
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>Prepare</h1>
        <Link to={stepAddress(engine.id, visit.id, 'inspect')} className={buttonClass('main')}>
          Next: Inspect
        </Link>
      </div>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div className="flex flex-col gap-4">
          <VisitFields engine={engine} visit={visit} />
        </div>
        <div className="flex flex-col gap-4">
          <Cautions detail={detail} step="prepare" />
          <Sheet
            title="Feeler blades needed"
            aside={<Link to={stepAddress(engine.id, visit.id, 'measure')}>change the set</Link>}
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
                  No feeler gauge set chosen yet: choose one at Measure.
                </p>
              )}
            </div>
          </Sheet>
          <HaveReady engine={engine} />
          <PartsRemoved engineId={engine.id} visit={visit} />
          <p className="no-print flex flex-wrap items-center gap-x-2 text-sm text-ink-soft">
            Wrong engine, or begun by mistake?
            <VisitElsewhere engineId={engine.id} visitId={visit.id} label="move or delete" />
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
      title="Visit"
      aside={<CopyPreparation key={visit.id} engineId={engine.id} visitId={visit.id} />}
    >
      <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
        <SavedField
          {...at}
          field="usage"
          label="The meter shows"
          unit={engine.usage_unit}
          value={String(visit.meter)}
          stored={visit.meter}
          parse={neededFigure}
          hint={
            visit.meter === visit.usage
              ? undefined
              : `with earlier meters ${usage(visit.usage, engine.usage_unit)}`
          }
        />
        <SavedField
          {...at}
          field="date"
          label="Day"
          type="date"
          value={visit.date}
          stored={visit.date}
          parse={neededDay}
        />
        <SavedField
          {...at}
          field="temperature_c"
          label="Engine temperature (cold-soaked)"
          unit="°C"
          value={shown(visit.temperature_c)}
          stored={visit.temperature_c}
          parse={figureOrNone}
          suggestionUnit="°C"
          hint={
            limit == null
              ? 'temperature of the air it stood in overnight'
              : `a cold check is below ${limit} °C`
          }
        />
        <SavedField
          {...at}
          field="last_run_hours_ago"
          label="Last run"
          unit="hours ago"
          value={shown(visit.last_run_hours_ago)}
          stored={visit.last_run_hours_ago}
          parse={figureOrNone}
          hint="overnight is best"
        />
        <SavedField
          {...at}
          field="duty"
          label="Use since the last check"
          value={visit.duty ?? ''}
          stored={visit.duty}
          parse={textOrNone}
          hint={engine.duty ? `usually: ${engine.duty}` : 'light, mixed, full load for long …'}
        />
        <SavedField
          {...at}
          field="technician"
          label="Technician"
          value={visit.technician ?? ''}
          stored={visit.technician}
          parse={textOrNone}
        />
        <SavedChoice
          {...at}
          field="access"
          label="Access for the blade"
          value={visit.access}
          choices={[
            { id: 'straight', label: 'straight' },
            { id: 'awkward', label: 'at an angle' },
          ]}
        />
        <SavedChoice
          {...at}
          field="work"
          label="Work"
          value={visit.work}
          choices={[
            { id: 'check', label: 'check' },
            { id: 'check-and-set', label: 'check and adjust' },
            { id: 'head-work', label: 'head off' },
          ]}
        />
        <div className="col-span-2">
          <SavedField
            {...at}
            field="notes"
            label="Notes"
            value={visit.notes ?? ''}
            stored={visit.notes}
            parse={textOrNone}
          />
        </div>
      </div>
    </Sheet>
  )
}
