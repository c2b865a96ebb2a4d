import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { caseAddress, instrumentsAddress } from '@/api/addresses'
import { useGaugeUnits, useKeepGaugeUnits } from '@/shared/gaugeUnits'
import type { CylinderTest, EngineDetail, CylinderTests, Visit } from '@/api/client'
import { buttonClass } from '@/design/Button'
import { FigureBox } from '@/design/FigureBox'
import { percent } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import {
  PRESSURE_UNITS,
  pressureFigure,
  pressuresIn,
  shownFigure,
  shownUnit,
  storedFigure,
  toKpa,
  type PressureUnit,
} from '@/design/pressure'
import { Questions } from '@/shared/Questions'
import { Sheet } from '@/design/Sheet'
import { ProblemError } from '@/api/client'
import { planGeometry } from '@/head-plan/planGeometry'
import { Cautions, StepPage } from '@/visit/shared/StepPage'
import { testedQuery, useNoteTest, type TestChange } from './testQueries'

const HEARD = [
  { id: 'intake', words: t`intake` },
  { id: 'exhaust', words: t`exhaust` },
  { id: 'crankcase', words: t`oil filler` },
  { id: 'coolant', words: t`coolant` },
  { id: 'neighbour', words: t`next cylinder` },
] as const

/** Tests with numbers: compression and leak-down where each cylinder stands, and the other figures. */
export function TestsPage() {
  return (
    <StepPage at="inspect" title={t`Measurements and tests`}>
      {(detail, visit) => <Testing detail={detail} visit={visit} />}
    </StepPage>
  )
}

function Testing({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const { engine } = detail
  const tests = useQuery(testedQuery(engine.id, visit.id))
  const { pressure: unit } = useGaugeUnits()
  const keepUnits = useKeepGaugeUnits()
  if (!tests.data) {
    return tests.error ? (
      <ErrorNotice error={tests.error} />
    ) : (
      <Loading what={t`the measurements`} />
    )
  }
  const ofVisit = detail.cases.filter((one) => one.visit === visit.id && one.closed === null)
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Measurements and tests`}</h1>
        <div className="flex flex-wrap items-center gap-3">
          <label htmlFor="pressure-unit">{t`Pressures in`}</label>
          <select
            id="pressure-unit"
            value={unit}
            onChange={(event) =>
              keepUnits.mutate({ pressure_unit: event.target.value as PressureUnit })
            }
            className="min-h-11 rounded-card border border-rule-strong bg-sheet px-2"
          >
            {PRESSURE_UNITS.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
          <Link to={instrumentsAddress(engine.id, visit.id)} className={buttonClass()}>
            {t`Instruments`}
          </Link>
          {ofVisit.map((one) => (
            <Link key={one.id} to={caseAddress(engine.id, one.id)} className={buttonClass('main')}>
              <Trans>Effect on case {one.id}</Trans>
            </Link>
          ))}
        </div>
      </div>
      <div className="mb-3">
        <Cautions detail={detail} step="tests" />
      </div>
      <Cylinders detail={detail} visit={visit} tests={tests.data} unit={unit} />
      <Figures engineId={engine.id} visitId={visit.id} tests={tests.data} />
    </>
  )
}

function limitText(tests: CylinderTests, unit: PressureUnit): string {
  const spread = t`${percent(tests.spread_limit)} difference at most${
    tests.spread_is_default ? t`, the usual limit` : ''
  }`
  if (tests.least_here_kpa === null || tests.least_kpa === null) {
    return t`No minimum compression is entered for this engine; ${spread}.`
  }
  const here = pressureFigure(tests.least_here_kpa, unit)
  const high = tests.altitude_m !== null && Math.abs(tests.altitude_m) >= 50
  return t`Minimum ${here} ${unit}${
    high ? t` at this altitude (${pressureFigure(tests.least_kpa, unit)} ${unit} at sea level)` : ''
  }, ${spread}.`
}

function Cylinders({
  detail: { engine },
  visit,
  tests,
  unit,
}: {
  detail: EngineDetail
  visit: Visit
  tests: CylinderTests
  unit: PressureUnit
}) {
  // Each cylinder stands where it stands on the plan of the head.
  const { cylinders, front } = planGeometry(engine.valves, engine.layout ?? {})
  const rows = [...new Set(cylinders.map((one) => one.y))].map((y) =>
    cylinders.filter((one) => one.y === y).sort((a, b) => a.x - b.x),
  )
  return (
    <Sheet
      title={t`Cylinder by cylinder`}
      aside={
        <span className="text-sm text-ink-soft">
          {front.pointing === 'left' ? t`← front` : t`front →`}
        </span>
      }
    >
      <p className="px-4 pt-2">
        {limitText(tests, unit)}
        {tests.spread !== null && (
          <>
            {' '}
            <Trans>Now {percent(tests.spread)} apart.</Trans>
          </>
        )}
        {tests.says.map((one) => (
          <strong key={one.finding} className="text-loose">
            {' '}
            {one.label} ({percent(one.presence)})
          </strong>
        ))}
      </p>
      {rows.map((row) => (
        <ul
          key={row[0]?.cylinder}
          className="grid gap-2 p-4"
          style={{ gridTemplateColumns: `repeat(${row.length}, minmax(0, 1fr))` }}
        >
          {row.map(({ cylinder }) => {
            const test = tests.cylinders.find((one) => one.cylinder === cylinder)
            return (
              test && (
                <CylinderCell
                  key={cylinder}
                  engineId={engine.id}
                  visitId={visit.id}
                  test={test}
                  unit={unit}
                />
              )
            )
          })}
        </ul>
      ))}
    </Sheet>
  )
}

type Field = 'dry_kpa' | 'wet_kpa' | 'leak_percent' | 'misfires'

function CylinderCell({
  engineId,
  visitId,
  test,
  unit,
}: {
  engineId: string
  visitId: string
  test: CylinderTest
  unit: PressureUnit
}) {
  const note = useNoteTest(engineId, visitId)
  const [kept, setKept] = useState(0)
  const asked = note.error instanceof ProblemError && note.error.asked
  const sent = note.variables && 'test' in note.variables ? note.variables.test : undefined
  const { cylinder, dry_kpa, wet_kpa, leak_percent, misfires } = test
  const heard = test.heard as (typeof HEARD)[number]['id'][]
  // The whole cylinder goes at once, with what is on its way and what was asked about.
  const current =
    (asked || note.isPending) && sent ? sent : { dry_kpa, wet_kpa, leak_percent, misfires, heard }

  const shown = { dry_kpa, wet_kpa, leak_percent, misfires, heard }

  // What the server is told was shown: of the field in question what stood there when typing began.
  function send(
    change: Partial<typeof current>,
    confirmed: string[] = [],
    was: Partial<typeof current> = {},
  ) {
    const test = { ...current, ...change, was: { ...shown, ...was }, confirmed }
    note.mutate({ cylinder, test }, { onSuccess: () => setKept((count) => count + 1) })
  }

  const box = (field: Field, label: string, pressure: boolean) => {
    const stored = test[field]
    return (
      <div className="flex w-full max-w-24 flex-col text-sm">
        <span aria-hidden="true">
          {label} <span className="text-ink-soft">({unitOf(field, unit)})</span>
        </span>
        <FigureBox
          key={unit}
          label={t`${label}, cylinder ${cylinder}`}
          stored={stored}
          shown={stored === null || !pressure ? stored : pressureFigure(stored, unit)}
          onChange={() => !asked && note.reset()}
          kept={kept}
          onKeep={(typed, was) => {
            const value = typed === null || !pressure ? typed : toKpa(typed, unit)
            send({ [field]: value }, [], { [field]: was })
          }}
        />
      </div>
    )
  }

  return (
    <li className="flex min-w-0 flex-col items-center gap-2">
      <span
        aria-hidden="true"
        className="flex size-14 items-center justify-center rounded-full border-2 border-ink text-xl font-semibold"
      >
        {cylinder}
      </span>
      {box('dry_kpa', t`dry`, true)}
      {(test.wet_called_for || test.wet_kpa !== null) && box('wet_kpa', t`wet`, true)}
      {box('leak_percent', t`leak-down`, false)}
      {leak_percent !== null && leak_percent > 0 && (
        <fieldset className="text-sm">
          <legend className="text-ink-soft">{t`heard at`}</legend>
          {HEARD.map((one) => (
            <label key={one.id} className="flex min-h-8 items-center gap-2">
              <input
                type="checkbox"
                className="size-5"
                checked={(current.heard ?? []).includes(one.id)}
                onChange={(event) =>
                  send({
                    heard: event.target.checked
                      ? [...(current.heard ?? []), one.id]
                      : (current.heard ?? []).filter((each) => each !== one.id),
                  })
                }
              />
              {one.words}
            </label>
          ))}
        </fieldset>
      )}
      {box('misfires', t`misfires`, false)}
      <ul className="text-center text-sm">
        {test.says.map((one) => (
          <li key={one.finding} className="font-semibold text-loose">
            {one.label} ({percent(one.presence)})
          </li>
        ))}
      </ul>
      {note.error && sent && (
        <div className="text-sm">
          <Questions
            error={note.error}
            suggestionText={(meant) => `${pressureFigure(meant, unit)} ${unit}`}
            onUse={(path, meant) => send({ [path.slice(2)]: meant })}
            onConfirm={(paths) => send({}, paths)}
          />
          {!asked && <ErrorNotice error={note.error} />}
        </div>
      )}
    </li>
  )
}

function unitOf(field: Field, pressure: PressureUnit): string {
  if (field === 'leak_percent') return '%'
  return field === 'misfires' ? t`counted` : pressure
}

function Figures({
  engineId,
  visitId,
  tests,
}: {
  engineId: string
  visitId: string
  tests: CylinderTests
}) {
  const note = useNoteTest(engineId, visitId)
  const [kept, setKept] = useState(0)
  const send = (change: TestChange) =>
    note.mutate(change, { onSuccess: () => setKept((count) => count + 1) })
  const units = useGaugeUnits()
  return (
    <Sheet title={t`Whole engine`} className="mt-4">
      <table className="w-full border-collapse">
        <tbody>
          <tr className="border-b border-rule">
            <th scope="row" className="px-4 py-1 text-left font-normal">
              <Trans>
                altitude <span className="text-ink-soft">(m)</span>
              </Trans>
            </th>
            <td className="w-32 py-1">
              <FigureBox
                label={t`altitude`}
                stored={tests.altitude_m}
                onChange={() => note.reset()}
                kept={kept}
                onKeep={(altitude_m, was) => send({ altitude_m, was })}
              />
            </td>
            <td className="px-4 py-1 text-sm text-ink-soft">
              {t`Compression and vacuum fall with the outside air pressure.`}
            </td>
          </tr>
          {tests.figures.map((figure) => {
            const unit = shownUnit(figure.id, figure.unit, units)
            return (
              <tr key={figure.id} className="border-b border-rule last:border-0">
                <th scope="row" className="px-4 py-1 text-left font-normal">
                  {figure.label} <span className="text-ink-soft">({unit})</span>
                </th>
                <td className="w-32 py-1">
                  <FigureBox
                    key={unit}
                    label={figure.label}
                    stored={figure.value}
                    shown={figure.value === null ? null : shownFigure(figure.value, unit)}
                    onChange={() => note.reset()}
                    kept={kept}
                    onKeep={(typed, was) => {
                      const value = typed === null ? null : storedFigure(typed, unit)
                      send({ figure: figure.id, value, was })
                    }}
                  />
                </td>
                <td className="px-4 py-1 text-sm">
                  {figure.says.map((one) => (
                    <strong key={one.finding} className="text-loose">
                      {one.label} ({percent(one.presence)}).{' '}
                    </strong>
                  ))}
                  <span className="text-ink-soft">
                    {pressuresIn(
                      figure.limits.join(' '),
                      figure.unit === 'kPa' ? (unit as PressureUnit) : 'kPa',
                    )}
                  </span>
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
      {note.error && <ErrorNotice error={note.error} />}
      <p className="px-4 py-2 text-sm text-ink-soft">
        {t`These are usual limits; the maker’s manual takes precedence.`}
      </p>
    </Sheet>
  )
}
