import { t } from '@lingui/core/macro'
import { Link } from 'react-router'
import {
  cardAddress,
  caseAddress,
  changesAddress,
  compareAddress,
  measureAddress,
  recordAddress,
} from '@/api/addresses'
import type { Analysis, EngineDetail, Estimate } from '@/api/client'
import { day, usage } from '@/design/format'
import { Empty } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { gapOf } from '@/head-plan/gap'
import { VisitElsewhere } from '@/shared/VisitElsewhere'

type Row = {
  visit: string
  date: string
  usage: number
  found: (Estimate | null)[]
  set: string[]
}

function rowsOf(analysis: Analysis): Row[] {
  const first = analysis.valves[0]
  return (first?.history ?? []).map((state, index) => ({
    visit: state.visit,
    date: state.date,
    usage: state.usage,
    found: analysis.valves.map((valve) => valve.history[index]?.found ?? null),
    set: analysis.valves
      .filter((valve) => (valve.history[index]?.settings.length ?? 0) > 0)
      .map((valve) => valve.valve),
  }))
}

const COUNTED_AS = { tight: t`tight`, loose: t`loose`, open: t`inconclusive`, in: t`in spec` }

function counts({ found, set }: Row, hydraulic: boolean): string {
  if (hydraulic) return set.length > 0 ? t`${set.length} preloaded` : t`no preload adjusted`
  const of = (verdict: string) =>
    found.filter((one) => one && gapOf(one).verdict === verdict).length
  const parts = (['tight', 'loose', 'open', 'in'] as const)
    .map((verdict) => [of(verdict), verdict] as const)
    .filter(([count]) => count > 0)
    .map(([count, verdict]) => `${count} ${COUNTED_AS[verdict]}`)
  const unread = found.filter((one) => one === null).length
  if (unread > 0) parts.push(t`${unread} not read`)
  return parts.join(', ')
}

/** The visits, newest first, and the engine's cases. */
export function VisitTable({ analysis, detail }: { analysis: Analysis; detail: EngineDetail }) {
  const rows = rowsOf(analysis).reverse()
  const engineId = detail.engine.id
  return (
    <Sheet
      title={t`Visits`}
      aside={
        <span className="no-print flex flex-wrap gap-x-4 text-sm">
          {rows.length > 1 && <Link to={compareAddress(engineId)}>{t`Compare`}</Link>}
          <Link to={changesAddress(engineId)}>{t`Who changed what`}</Link>
          <a href={recordAddress(engineId)} download>
            {t`Export this engine’s record`}
          </a>
        </span>
      }
    >
      {rows.length === 0 ? (
        <div className="p-4">
          <Empty>
            {t`No visits yet. Start one to measure; the forecast needs at least two readings of a valve.`}
          </Empty>
        </div>
      ) : (
        <div className="overflow-x-auto">
          <table className="cards-when-narrow w-full border-collapse">
            <thead>
              <tr className="border-b border-rule text-left text-sm text-ink-soft">
                <th className="px-3 py-2 font-normal">{t`Visit`}</th>
                <th className="px-3 py-2 font-normal">{t`Day`}</th>
                <th className="px-3 py-2 font-normal">{t`Running total`}</th>
                <th className="px-3 py-2 font-normal">{t`As found`}</th>
                <th className="px-3 py-2 font-normal">{t`Adjusted`}</th>
                <th className="px-3 py-2 font-normal">{t`Case`}</th>
                <th className="no-print px-3 py-2 font-normal">{t`Job card`}</th>
                <th className="no-print py-2 font-normal">
                  <span className="sr-only">{t`Move or delete`}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.visit} className="border-b border-rule last:border-0">
                  <td className="px-3 py-2" data-label={t`Visit`}>
                    <Link to={measureAddress(engineId, row.visit)}>{row.visit}</Link>
                  </td>
                  <td className="px-3 py-2" data-label={t`Day`}>
                    {day(row.date)}
                  </td>
                  <td className="px-3 py-2" data-label={t`Running total`}>
                    {usage(row.usage, analysis.usage_unit)}
                  </td>
                  <td className="px-3 py-2" data-label={t`As found`}>
                    {counts(row, detail.engine.adjustment === 'hydraulic')}
                  </td>
                  <td className="px-3 py-2" data-label={t`Adjusted`}>
                    {row.set.join(', ') || '–'}
                  </td>
                  <td className="px-3 py-2" data-label={t`Case`}>
                    {detail.cases
                      .filter((one) => one.visit === row.visit)
                      .map((one) => (
                        <Link key={one.id} to={caseAddress(engineId, one.id)} className="mr-2">
                          {one.id}
                        </Link>
                      ))}
                  </td>
                  <td className="no-print px-3 py-2" data-label={t`Job card`}>
                    <Link
                      to={cardAddress(engineId, row.visit)}
                      aria-label={t`Job card of visit ${row.visit}`}
                    >
                      {t`card`}
                    </Link>
                  </td>
                  <td className="no-print py-1" data-label={t`Move or delete`}>
                    <VisitElsewhere engineId={engineId} visitId={row.visit} label="⋯" />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Sheet>
  )
}
