import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { engineAddress, packageAddress, tableAddress, TABLES } from '@/api/addresses'
import { engineQuery } from '@/api/queries'
import { buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { ImportSheet } from './ImportSheet'

const WORDS: Record<(typeof TABLES)[number], string> = {
  visits: t`one line per visit: date, usage, findings, common offset`,
  readings: t`one line per valve, visit and phase: went in, would not go, feel, estimate, verdict`,
  drift: t`one line per valve: current clearance, drift, valve sink, sudden change, when it will be out of spec`,
  cases: t`one line per case: complaint and outcome`,
}

/** An engine's figures as tables for other programs, and readings brought in from a spreadsheet. */
export function TablesPage() {
  const { engineId = '' } = useParams()
  const { data, error } = useQuery(engineQuery(engineId))
  useTitle(t`Export and import`)
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the engine`} />
  const { engine } = data
  return (
    <div className="mx-auto max-w-[1400px]">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>
          <Trans>Export and import: {engine.name ?? engine.id}</Trans>
        </h1>
        <Link to={engineAddress(engine.id)} className={buttonClass('quiet')}>
          {t`Engine`}
        </Link>
      </div>
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,2fr)]">
        <Sheet title={t`Export`}>
          <div className="flex flex-col gap-3 px-4 py-3">
            <p>
              {t`CSV files that a spreadsheet opens, lengths in mm. The package holds all four with a descriptor (datapackage.json) that explains each column.`}
            </p>
            <a href={packageAddress(engine.id)} download className={buttonClass('main')}>
              {t`Export the package`}
            </a>
            <ul className="flex flex-col gap-1">
              {TABLES.map((table) => (
                <li key={table} className="border-t border-rule pt-1">
                  <a href={tableAddress(engine.id, table)} download className="font-semibold">
                    <Trans>{table}.csv</Trans>
                  </a>
                  <p className="text-sm text-ink-soft">{WORDS[table]}</p>
                </li>
              ))}
            </ul>
            <p className="text-sm text-ink-soft">
              <Trans>
                <a href={`/api${engineAddress(engine.id)}/record`} download>
                  Record
                </a>{' '}
                contains everything as one JSON document, for another workshop or another program.
              </Trans>
            </p>
          </div>
        </Sheet>
        <ImportSheet engine={engine} />
      </div>
    </div>
  )
}
