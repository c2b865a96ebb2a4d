import { Link } from 'react-router'
import { stopAddress } from '@/api/addresses'
import type { EngineDetail, Visit } from '@/api/client'
import { BladeSetGaps, BladeSetRange } from '@/blades/BladeSetFacts'
import { buttonClass } from '@/design/Button'
import { usage } from '@/design/format'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'
import { SavedChoice } from './SavedChoice'
import { SavedField } from './SavedField'
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
  return value === null ? { fault: 'needs a figure: what the meter shows' } : { value }
}
const figureOrNone = (text: string) => {
  if (text.trim() === '') return { value: null }
  const value = typedFigure(text)
  return value === null ? { fault: 'must be a figure, or empty where it was not noted' } : { value }
}
const textOrNone = (text: string) => ({ value: text.trim() || null })
const neededDay = (text: string) => (text === '' ? { fault: 'needs a day' } : { value: text })
const shown = (value: number | null) => (value === null ? '' : String(value))

function Preparing({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { engine } = detail
  const { unit } = usePreferences()
  const at = { engineId: engine.id, visitId: visit.id }
  const limit = engine.check_below_temperature_c
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>Prepare</h1>
        <Link to={stopAddress(engine.id, visit.id, 'look-in')} className={buttonClass('main')}>
          On to Look in
        </Link>
      </div>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div className="flex flex-col gap-4">
          <Sheet title="The visit">
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
                label="Engine soaked at"
                unit="°C"
                value={shown(visit.temperature_c)}
                stored={visit.temperature_c}
                parse={figureOrNone}
                suggestionUnit="°C"
                hint={
                  limit == null
                    ? 'the air it stood in overnight'
                    : `a cold check is under ${limit} °C`
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
                label="Duty since the last look"
                value={visit.duty ?? ''}
                stored={visit.duty}
                parse={textOrNone}
                hint={
                  engine.duty ? `usually: ${engine.duty}` : 'light, mixed, full load for long …'
                }
              />
              <SavedField
                {...at}
                field="technician"
                label="By whom"
                value={visit.technician ?? ''}
                stored={visit.technician}
                parse={textOrNone}
              />
              <SavedChoice
                {...at}
                field="access"
                label="The blade goes in"
                value={visit.access}
                choices={[
                  { id: 'straight', label: 'straight' },
                  { id: 'awkward', label: 'at an angle' },
                ]}
              />
              <SavedChoice
                {...at}
                field="work"
                label="The work"
                value={visit.work}
                choices={[
                  { id: 'check', label: 'check' },
                  { id: 'check-and-set', label: 'check and set' },
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
        </div>
        <div className="flex flex-col gap-4">
          <Cautions detail={detail} step="prepare" />
          <Sheet
            title="Blades to lay out"
            aside={<Link to={stopAddress(engine.id, visit.id, 'measure')}>other blades</Link>}
          >
            <div className="px-4 py-2">
              {visit.blade_set ? (
                <>
                  <strong>{visit.blade_set.name}</strong>{' '}
                  <BladeSetRange set={visit.blade_set} unit={unit} />
                  <BladeSetGaps set={visit.blade_set} unit={unit} />
                </>
              ) : (
                <p className="text-ink-soft">No set chosen yet: choose one at Measure.</p>
              )}
            </div>
          </Sheet>
          <PartsRemoved engineId={engine.id} visit={visit} />
        </div>
      </div>
    </>
  )
}
