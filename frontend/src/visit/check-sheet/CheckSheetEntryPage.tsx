import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent, type KeyboardEvent } from 'react'
import { Link, useNavigate } from 'react-router'
import { sheetAddress, stepAddress } from '@/api/addresses'
import {
  ProblemError,
  type CrankPlan,
  type EngineDetail,
  type Phase,
  type Visit,
} from '@/api/client'
import { Button } from '@/design/Button'
import type { LengthUnit } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Questions } from '@/shared/Questions'
import { Sheet } from '@/design/Sheet'
import { measuringOrder } from '@/visit/shared/order'
import { PhaseChoice } from '@/visit/shared/PhaseChoice'
import { crankQuery, useTypeIn, visitQuery } from '@/shared/visitQueries'
import { StepPage } from '@/visit/shared/StepPage'
import { blankLine, isBlank, readLine, type Line } from './checkSheetLine'

/** A sheet of paper typed in afterwards: a line a valve, in the order in which they were measured. */
export function CheckSheetEntryPage() {
  return (
    <StepPage at="measure" title={t`Enter a check sheet`}>
      {(detail, visit) => <Fetching detail={detail} visit={visit} />}
    </StepPage>
  )
}

function Fetching({ detail, visit }: { detail: EngineDetail; visit: Visit }) {
  const crank = useQuery(crankQuery(detail.engine.id, visit.school))
  if (crank.isPending) return null
  return <TypeIn detail={detail} visit={visit} plan={crank.data} />
}

function TypeIn({
  detail: { engine },
  visit,
  plan,
}: {
  detail: EngineDetail
  visit: Visit
  plan: CrankPlan | undefined
}) {
  const preferences = usePreferences()
  const navigate = useNavigate()
  const queryClient = useQueryClient()
  const [unit, setUnit] = useState<LengthUnit>(preferences.unit)
  const [phase, setPhase] = useState<Phase>('found')
  const [lines, setLines] = useState<Line[]>(() =>
    measuringOrder(visit, plan, engine.valves).map(blankLine),
  )
  const [checked, setChecked] = useState(false)
  const send = useTypeIn(engine.id, visit.id)
  const refused = send.error instanceof ProblemError ? send.error : undefined

  const filled = lines.filter((line) => !isBlank(line))
  const read = new Map(filled.map((line) => [line.id, readLine(line, unit, phase)]))
  const faults = filled.filter((line) => read.get(line.id)?.fault)
  /** What the server said of a line, by its place among those sent. */
  const refusalOf = (line: Line) => {
    const at = `$.lines[${filled.indexOf(line)}]`
    return refused?.asked
      ? undefined
      : refused?.faults.find(({ path }) => path.startsWith(at))?.message
  }

  function submit(confirmed: string[] = []) {
    setChecked(true)
    if (filled.length === 0 || faults.length > 0) return
    send.mutate(
      { lines: filled.flatMap((line) => read.get(line.id)?.line ?? []), confirmed },
      {
        onSuccess: () => {
          void queryClient.invalidateQueries({ queryKey: visitQuery(engine.id, visit.id).queryKey })
          void navigate(stepAddress(engine.id, visit.id, 'assess'))
        },
      },
    )
  }

  function set(id: string, part: Partial<Line>) {
    send.reset()
    setLines((before) => before.map((line) => (line.id === id ? { ...line, ...part } : line)))
  }

  /** Enter goes on as a finger goes down a sheet: to the next cell, from the last one of a line to the next. */
  function onKeyDown(event: KeyboardEvent<HTMLTableSectionElement>) {
    if (event.key !== 'Enter' || !(event.target instanceof HTMLInputElement)) return
    const cells = [...event.currentTarget.querySelectorAll<HTMLInputElement>('input[data-cell]')]
    const next = cells[cells.indexOf(event.target) + 1]
    if (!next) return
    event.preventDefault()
    next.focus()
    next.select()
  }

  return (
    <form
      noValidate
      onSubmit={(event: FormEvent) => {
        event.preventDefault()
        submit()
      }}
    >
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Enter a check sheet`}</h1>
        <div className="flex flex-wrap items-center gap-3">
          <Link to={sheetAddress(engine.id)}>{t`blank check sheet`}</Link>
          <UnitChoice unit={unit} onChange={setUnit} />
          <PhaseChoice phase={phase} onChange={setPhase} keys={false} />
          <Button look="main" type="submit" disabled={send.isPending || filled.length === 0}>
            <Trans>
              Save <Plural value={filled.length} one="# valve" other="# valves" />
            </Trans>
          </Button>
        </div>
      </div>
      <Sheet
        title={t`One line per valve`}
        aside={
          <span className="text-sm text-ink-soft">
            {t`Enter: next field; d after a blade: drags, f: slides freely; 0.20+0.08 is a stack`}
          </span>
        }
      >
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-b-2 border-ink text-left text-sm text-ink-soft">
              <th className="w-28 px-3 py-1 font-normal">{t`Valve`}</th>
              <th className="w-48 px-3 py-1 font-normal">
                <Trans>went in ({unit})</Trans>
              </th>
              <th className="w-48 px-3 py-1 font-normal">
                <Trans>would not go ({unit})</Trans>
              </th>
              <th className="px-3 py-1 font-normal">
                <span className="sr-only">{t`Error`}</span>
              </th>
            </tr>
          </thead>
          <tbody onKeyDown={onKeyDown}>
            {lines.map((line, index) => (
              <tr key={line.id} className="border-b border-rule">
                <td className="px-3 py-1">
                  <Cell
                    label={t`Valve of line ${index + 1}`}
                    value={line.valve}
                    onChange={(valve) => set(line.id, { valve })}
                    tabIndex={-1}
                  />
                </td>
                <td className="px-3 py-1">
                  <Cell
                    data-cell
                    autoFocus={index === 0}
                    label={t`${line.valve} went in`}
                    value={line.went}
                    onChange={(went) => set(line.id, { went })}
                  />
                </td>
                <td className="px-3 py-1">
                  <Cell
                    data-cell
                    label={t`${line.valve} would not go`}
                    value={line.refused}
                    onChange={(typed) => set(line.id, { refused: typed })}
                  />
                </td>
                <td className="px-3 py-1 text-sm text-tight">
                  {(checked && read.get(line.id)?.fault) || refusalOf(line)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="p-3">
          <Button onClick={() => setLines([...lines, blankLine()])}>{t`Add line`}</Button>
        </div>
      </Sheet>
      {refused?.asked && (
        <div className="mt-3">
          <Questions error={send.error} onConfirm={submit} />
        </div>
      )}
      {send.error && !refused?.asked && <ErrorNotice error={send.error} />}
    </form>
  )
}

function Cell({
  label,
  value,
  onChange,
  ...rest
}: {
  label: string
  value: string
  onChange: (value: string) => void
  autoFocus?: boolean
  tabIndex?: number
  'data-cell'?: boolean
}) {
  return (
    <input
      aria-label={label}
      maxLength={80}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className="min-h-10 w-full rounded-card border border-rule-strong bg-paper px-2"
      {...rest}
    />
  )
}

function UnitChoice({
  unit,
  onChange,
}: {
  unit: LengthUnit
  onChange: (unit: LengthUnit) => void
}) {
  return (
    <fieldset className="flex gap-4">
      <legend className="sr-only">{t`Written in`}</legend>
      {(['mm', 'thou'] as const).map((one) => (
        <label key={one} className="flex min-h-11 items-center gap-2">
          <input
            type="radio"
            name="paper-unit"
            className="size-5 accent-accent"
            checked={unit === one}
            onChange={() => onChange(one)}
          />
          {one}
        </label>
      ))}
    </fieldset>
  )
}
