import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { newId } from '@/api/client'
import { measureAddress } from '@/api/addresses'
import { FileButton } from '@/design/FileButton'
import { ErrorNotice } from '@/design/Notice'
import { useAddPhotograph } from '@/shared/photographQueries'
import { Link } from 'react-router'

/** The old sheet itself, photographed, is kept with the last visit that came of it. */
export function SheetPhotograph({
  engineId,
  visitId,
  name,
}: {
  engineId: string
  visitId: string
  name: string
}) {
  const add = useAddPhotograph(engineId, visitId)
  if (add.isSuccess) {
    return (
      <p role="status">
        <Trans>
          The photo is kept with visit <Link to={measureAddress(engineId, visitId)}>{visitId}</Link>
          .
        </Trans>
      </p>
    )
  }
  return (
    <div className="flex flex-wrap items-center gap-3">
      <FileButton
        label={t`Photo of the old sheet`}
        accept="image/*"
        disabled={add.isPending}
        onFile={(file) =>
          add.mutate({
            id: newId(),
            step: 'prepare',
            file,
            valve: null,
            text: t`Old sheet, imported from ${name}`.slice(0, 200),
          })
        }
      >
        {add.isPending ? t`Storing the photo…` : t`Keep a photo of the old sheet`}
      </FileButton>
      {add.error && <ErrorNotice error={add.error} />}
    </div>
  )
}
