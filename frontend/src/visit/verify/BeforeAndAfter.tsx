import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import { ProblemError, type FigureIn, type Verification } from '@/api/client'
import { useGaugeUnits } from '@/shared/gaugeUnits'
import { FigureBox } from '@/design/FigureBox'
import { ErrorNotice } from '@/design/Notice'
import { shownFigure, shownUnit, storedFigure } from '@/design/pressure'
import { Questions } from '@/shared/Questions'
import { Sheet } from '@/design/Sheet'
import { useNoteFigure } from '@/shared/verifyQueries'
import { named } from '@/design/names'

type Figure = Verification['figures'][number]
const PHASES = ['before', 'after'] as const

/** Figures side by side; compression again where a valve was found held open. */
export function BeforeAndAfter({
  engineId,
  visitId,
  verification,
}: {
  engineId: string
  visitId: string
  verification: Verification
}) {
  return (
    <Sheet title={t`Measurements before and after`}>
      {verification.held_open.length > 0 && (
        <p className="border-b border-rule px-4 py-2">
          <Trans>
            Found without clearance: {verification.held_open.join(', ')}. Measure compression again:
            a valve that was held open may be burnt, and adjusting does not cure that.
          </Trans>
        </p>
      )}
      <table className="w-full border-collapse text-sm">
        <thead>
          <tr className="border-b border-ink text-left text-ink-soft">
            <th className="px-4 py-1 font-normal">{t`measurement`}</th>
            {PHASES.map((phase) => (
              <th key={phase} className="w-28 px-2 py-1 font-normal">
                {named(phase)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {verification.figures.map((figure) => (
            <FigureRow
              key={`${figure.id} ${figure.cylinder ?? ''}`}
              engineId={engineId}
              visitId={visitId}
              figure={figure}
            />
          ))}
        </tbody>
      </table>
    </Sheet>
  )
}

function FigureRow({
  engineId,
  visitId,
  figure,
}: {
  engineId: string
  visitId: string
  figure: Figure
}) {
  const note = useNoteFigure(engineId, visitId)
  const [kept, setKept] = useState(0)
  const unit = shownUnit(figure.id, figure.unit, useGaugeUnits())
  const asked = note.error instanceof ProblemError && note.error.asked
  const send = (change: Pick<FigureIn, 'phase' | 'value' | 'was'>, confirmed: string[] = []) =>
    note.mutate(
      { id: figure.id, cylinder: figure.cylinder, ...change, confirmed },
      { onSuccess: () => setKept((count) => count + 1) },
    )
  const sent = note.variables
  return (
    <>
      <tr className="border-b border-rule last:border-0">
        <th scope="row" className="px-4 py-1 text-left font-normal">
          {figure.label} <span className="text-ink-soft">({unit})</span>
        </th>
        {PHASES.map((phase) => (
          <td key={phase} className="px-2 py-1 align-top">
            <FigureBox
              key={unit}
              label={`${figure.label}, ${named(phase)}`}
              stored={figure[phase] ?? null}
              shown={figure[phase] == null ? null : shownFigure(figure[phase], unit)}
              onChange={() => note.reset()}
              kept={kept}
              onKeep={(typed, was) => {
                const value = typed === null ? null : storedFigure(typed, unit)
                send({ phase, value, was })
              }}
            />
          </td>
        ))}
      </tr>
      {note.error && sent && (
        <tr>
          <td colSpan={3} className="px-4 pb-2">
            <Questions
              error={note.error}
              suggestionText={(meant) => `${shownFigure(meant, unit)} ${unit}`}
              onUse={(_, meant) => send({ ...sent, value: meant })}
              onConfirm={(paths) => send(sent, paths)}
            />
            {!asked && <ErrorNotice error={note.error} />}
          </td>
        </tr>
      )}
    </>
  )
}
