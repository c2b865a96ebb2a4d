import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import type { Fault } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Questions } from '@/shared/Questions'
import type { FigureKey } from './draft'
import { useEngineForm } from './fields'
import { otherUnitWouldDo } from './schema'
import type { useSavedEngine } from './useSavedEngine'

const OTHER_UNIT = { mm: 'thou', thou: 'mm' } as const

/** What is still wrong, what the server asks about, and how to go on from there. */
export function FormFaults({
  saved,
  canOverwrite,
}: {
  saved: ReturnType<typeof useSavedEngine>
  canOverwrite: boolean
}) {
  const { keep, refused, faults, draft } = saved
  const { values, change } = useEngineForm()
  const other = OTHER_UNIT[values.unit]

  /** Take what was probably meant: another unit for the whole spec, a figure for anything else. */
  function take(path: string, figure: number) {
    if (/spec/.test(path)) change({ unit: other })
    else {
      const key = path.replace('$.engine.', '') as FigureKey
      change({ figures: { ...values.figures, [key]: String(figure) } })
    }
  }

  return (
    <>
      {keep.error && refused?.asked && (
        <Questions
          error={keep.error}
          suggestionText={(figure, path) =>
            /spec/.test(path) ? t`the spec as ${other}` : `${figure} °C`
          }
          onUse={take}
          onConfirm={(paths) => void saved.send(paths)}
        />
      )}
      {keep.error && !refused?.asked && <ErrorNotice error={keep.error} />}
      {canOverwrite && refused?.status === 409 && (
        <Button onClick={saved.overwrite}>{t`Overwrite with mine: save again`}</Button>
      )}
      {!keep.error && faults.length > 0 && <FaultList faults={faults} />}
      {saved.form.formState.isSubmitted && otherUnitWouldDo(draft) && (
        <Button onClick={() => change({ unit: other })}>
          <Trans>Use {other}</Trans>
        </Button>
      )}
    </>
  )
}

function FaultList({ faults }: { faults: Fault[] }) {
  return (
    <div role="alert" className="rounded-card border-2 border-tight bg-sheet p-3">
      <p className="font-semibold text-tight">
        <Trans>
          <Plural
            value={faults.length}
            one="# field is still to be fixed"
            other="# fields are still to be fixed"
          />
        </Trans>
      </p>
      <ul className="mt-1 list-disc pl-5 text-sm">
        {faults.map((fault) => (
          <li key={fault.path}>
            {fault.label && <strong>{fault.label}: </strong>}
            {fault.message}
          </li>
        ))}
      </ul>
    </div>
  )
}
