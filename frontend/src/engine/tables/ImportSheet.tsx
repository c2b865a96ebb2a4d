import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import { exampleSheetAddress } from '@/api/addresses'
import type { Engine, SheetSeen } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { SheetColumns } from './SheetColumns'
import { SheetPhotograph } from './SheetPhotograph'
import { SheetSettings } from './SheetSettings'
import { SheetFaults, SheetRows, SheetVisits } from './SheetTables'
import { useSheetSeen, useTakeSheet, type Chosen } from './queries'

/** Readings from a spreadsheet: found out or chosen what its columns are, looked at, then all of them or none. */
export function ImportSheet({ engine }: { engine: Engine }) {
  const { id: engineId, usage_unit: usageUnit } = engine
  const [file, setFile] = useState<File>()
  const [chosen, setChosen] = useState<Chosen>({})
  const [leaveOut, setLeaveOut] = useState(false)
  const seen = useSheetSeen(engineId, file, chosen)
  const take = useTakeSheet(engineId)

  function choose(next: File) {
    setFile(next)
    setChosen({})
    setLeaveOut(false)
    take.reset()
  }

  return (
    <Sheet
      title={t`Import readings from a spreadsheet`}
      aside={file && <span className="text-sm text-ink-soft">{file.name}</span>}
    >
      <div className="flex flex-col gap-3 px-4 py-3">
        <p>
          {t`A workbook (.xlsx) or CSV, as it was kept: one line a visit with a column for each valve, or one line a reading. Shims and settings may stand in columns too. You see what would be imported, and correct it here, before anything is stored.`}
        </p>
        <div className="flex flex-wrap gap-2">
          <FileButton
            label={t`Spreadsheet file`}
            accept=".xlsx,.csv,.tsv,.txt,text/csv"
            onFile={choose}
          >
            {file ? t`Choose another spreadsheet` : t`Choose a spreadsheet`}
          </FileButton>
          <a href={exampleSheetAddress(engineId)} download className={buttonClass('quiet')}>
            {t`Example file`}
          </a>
        </div>
        {seen.isFetching && <p role="status">{t`Reading it…`}</p>}
        {seen.error && <ErrorNotice error={seen.error} />}
        {file && seen.data && !take.data && (
          <Seen
            seen={seen.data}
            usageUnit={usageUnit}
            valves={engine.valves.map((one) => one.id)}
            chosen={chosen}
            onChoose={(change) => setChosen({ ...chosen, ...change })}
          />
        )}
        {file && seen.data && !take.data && (
          <Taking
            seen={seen.data}
            leaveOut={leaveOut}
            onLeaveOut={setLeaveOut}
            pending={take.isPending || seen.isFetching}
            onTake={() => take.mutate({ file, chosen, leaveOutFaulty: leaveOut })}
          />
        )}
        {take.isPending && <p role="status">{t`Importing…`}</p>}
        {take.error && <ErrorNotice error={take.error} />}
        {take.data && (
          <>
            <p role="status">
              <Trans>
                Imported. Readings: {take.data.readings_new}, visits: {take.data.visit_count}, rows
                with errors left out: {take.data.fault_count}
              </Trans>
              {take.data.settings_new > 0 && t`, settings: ${take.data.settings_new}`}.
            </p>
            {take.data.visits.length > 0 && (
              <SheetPhotograph
                engineId={engineId}
                visitId={take.data.visits.at(-1)?.id ?? ''}
                name={file?.name ?? ''}
              />
            )}
          </>
        )}
      </div>
    </Sheet>
  )
}

function Seen({
  seen,
  usageUnit,
  valves,
  chosen,
  onChoose,
}: {
  seen: SheetSeen
  usageUnit: string
  valves: string[]
  chosen: Chosen
  onChoose: (change: Chosen) => void
}) {
  return (
    <div className="flex flex-col gap-3">
      <SheetSettings seen={seen} onChoose={onChoose} />
      <SheetColumns seen={seen} valves={valves} onChoose={onChoose} />
      {seen.missing.length > 0 && (
        <div role="alert" className="rounded-card border-2 border-loose p-3">
          <p className="font-semibold text-loose">{t`No column gives`}</p>
          <ul className="list-disc pl-5">
            {seen.missing.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
          <p className="text-sm">{t`Choose the column above.`}</p>
        </div>
      )}
      <SheetFaults
        seen={seen}
        corrections={chosen.corrections ?? []}
        onCorrect={(corrections) => onChoose({ corrections })}
      />
      <SheetRows seen={seen} usageUnit={usageUnit} />
      <SheetVisits seen={seen} usageUnit={usageUnit} />
    </div>
  )
}

function Taking({
  seen,
  leaveOut,
  onLeaveOut,
  pending,
  onTake,
}: {
  seen: SheetSeen
  leaveOut: boolean
  onLeaveOut: (on: boolean) => void
  pending: boolean
  onTake: () => void
}) {
  const open = seen.missing.length > 0 || seen.ambiguities.length > 0
  const faulty = seen.fault_count > 0
  if (open) return null
  const nothing = seen.readings_new + seen.settings_new === 0
  if (nothing && faulty)
    return <p role="status">{t`Nothing can be imported: correct the errors above.`}</p>
  if (nothing)
    return (
      <p role="status">
        <Trans>Nothing new: {seen.readings_same} readings are here already.</Trans>
      </p>
    )
  return (
    <div className="flex flex-wrap items-center gap-4">
      {faulty && (
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-accent"
            checked={leaveOut}
            onChange={(event) => onLeaveOut(event.target.checked)}
          />
          <Trans>leave out the rows with errors: {seen.fault_count}</Trans>
        </label>
      )}
      <Button look="main" disabled={pending || (faulty && !leaveOut)} onClick={onTake}>
        <Trans>Import {seen.readings_new} readings</Trans>
      </Button>
      {faulty && !leaveOut && (
        <p className="text-sm text-loose">
          {t`All rows are imported or none: fix them, or leave them out.`}
        </p>
      )}
    </div>
  )
}
