import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { caseAddress, engineAddress, NEW_ENGINE_ADDRESS } from '@/api/addresses'
import type { EngineSummary } from '@/api/client'
import { enginesQuery, findingsQuery } from '@/api/queries'
import { buttonClass } from '@/design/Button'
import { chance, day, usage } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { VerdictMark } from '@/design/shapes'
import { useTitle } from '@/design/useTitle'
import { BringIn } from './BringIn'

/** What is in the shop and what wants attention. */
export function Shop() {
  const { data: engines, error, refetch } = useQuery(enginesQuery)
  useTitle('Shop')
  return (
    <div className="mx-auto max-w-6xl">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-4">
        <h1>Shop</h1>
        <div className="flex flex-wrap items-start gap-2">
          <BringIn />
          <Link to={NEW_ENGINE_ADDRESS} className={buttonClass('main')}>
            Describe an engine
          </Link>
        </div>
      </div>
      {error && <ErrorNotice error={error} retry={() => void refetch()} />}
      {!engines && !error && <Loading what="the engines" />}
      {engines?.length === 0 && (
        <Empty>
          No engine yet. Describe one, in about two minutes, or bring in a record of one (a JSON
          file in the open format); its visits, readings and cases come with it.
        </Empty>
      )}
      {engines && engines.length > 0 && <EngineTable engines={engines} />}
    </div>
  )
}

function EngineTable({ engines }: { engines: EngineSummary[] }) {
  const { data: findings = [] } = useQuery(findingsQuery)
  const labels = new Map(findings.map((finding) => [finding.id, finding.label]))
  return (
    <table className="w-full border-collapse bg-sheet">
      <thead>
        <tr className="border-b-2 border-ink text-left text-sm text-ink-soft">
          <th className="px-4 py-2 font-normal">Engine</th>
          <th className="px-4 py-2 font-normal">Last look</th>
          <th className="px-4 py-2 font-normal">Worst valve as it stands</th>
          <th className="px-4 py-2 font-normal">Open cases</th>
        </tr>
      </thead>
      <tbody>
        {engines.map((engine) => (
          <tr key={engine.id} className="border-b border-rule align-top">
            <td className="px-4 py-4">
              <Link to={engineAddress(engine.id)} className="text-lg font-semibold">
                {engine.name}
              </Link>
              <div className="text-sm text-ink-soft">
                {engine.valves} valves, {engine.visits} {engine.visits === 1 ? 'visit' : 'visits'}
              </div>
            </td>
            <td className="px-4 py-4">
              {engine.last_date && engine.last_usage !== null ? (
                <>
                  {day(engine.last_date)}
                  <div className="text-sm text-ink-soft">
                    at {usage(engine.last_usage, engine.usage_unit)}, {engine.read_at_last_visit} of{' '}
                    {engine.valves} valves read
                  </div>
                  {engine.recheck && (
                    <div className="text-sm font-semibold">
                      recheck at {usage(engine.recheck.usage, engine.usage_unit)}
                      {engine.recheck.day && `, about ${day(engine.recheck.day)}`}
                    </div>
                  )}
                </>
              ) : (
                'never'
              )}
            </td>
            <td className="px-4 py-4">
              <Worst engine={engine} />
            </td>
            <td className="px-4 py-4">
              {engine.open_cases.length === 0 && <span className="text-ink-soft">none</span>}
              {engine.open_cases.map((open) => (
                <div key={open.id}>
                  <Link to={caseAddress(engine.id, open.id)} className="font-semibold">
                    {open.complaints.map((id) => labels.get(id) ?? id).join(', ') ||
                      'no complaint noted yet'}
                  </Link>
                  <div className="text-sm text-ink-soft">
                    case {open.id}, since {day(open.opened)}
                  </div>
                </div>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Worst({ engine }: { engine: EngineSummary }) {
  const { worst } = engine
  if (!worst) return <span className="text-ink-soft">not read at the last visit</span>
  const word =
    worst.verdict === 'open'
      ? `${worst.valve} open, leaning ${worst.leaning}`
      : `${worst.valve} ${worst.verdict}`
  return (
    <>
      <VerdictMark verdict={worst.verdict} word={word} />
      <div className="text-sm text-ink-soft">{chance(worst.probability)}</div>
    </>
  )
}
