import { t } from '@lingui/core/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { plateAddress } from '@/api/addresses'
import { api, done, type EngineDetail } from '@/api/client'
import { Button } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { ErrorNotice } from '@/design/Notice'
import { PICTURE_TYPES, pictureFault } from '@/design/pictures'
import { Popup } from '@/design/Popup'

/** The photograph of an engine's plate: small, large when pressed, and replaced there. */
export function Plate({ detail }: { detail: EngineDetail }) {
  const [open, setOpen] = useState(false)
  const picture = detail.plate_photograph
  const name = detail.engine.name ?? detail.engine.id
  return (
    <>
      <Button
        look="quiet"
        className="no-print px-2!"
        aria-label={picture ? t`Photo of the plate` : undefined}
        onClick={() => setOpen(true)}
      >
        {picture ? (
          <img
            src={plateAddress(detail.engine.id, picture)}
            alt={t`Plate of ${name}`}
            className="h-9 w-auto"
          />
        ) : (
          t`Photo of the plate`
        )}
      </Button>
      {open && (
        <Popup title={t`Photo of the plate`} onClose={() => setOpen(false)}>
          <LargePlate detail={detail} />
        </Popup>
      )}
    </>
  )
}

function LargePlate({ detail: { engine, plate_photograph: picture } }: { detail: EngineDetail }) {
  const [fault, setFault] = useState<Error>()
  const queryClient = useQueryClient()
  const path = { params: { path: { engine_id: engine.id } } }
  const onSuccess = () => queryClient.invalidateQueries({ queryKey: ['engines', engine.id] })
  const put = useMutation({
    mutationFn: (file: File) =>
      done(
        api.PUT('/api/engines/{engine_id}/plate-photograph', {
          ...path,
          body: file as unknown as string,
          // The picture goes as it is.
          bodySerializer: (body) => body as unknown as Blob,
          headers: { 'Content-Type': file.type || 'application/octet-stream' },
        }),
      ),
    onSuccess,
  })
  const remove = useMutation({
    mutationFn: () => done(api.DELETE('/api/engines/{engine_id}/plate-photograph', path)),
    onSuccess,
  })
  const error = fault ?? put.error ?? remove.error
  return (
    <div className="flex flex-col gap-3">
      {picture ? (
        <img
          src={plateAddress(engine.id, picture)}
          alt={t`Plate of ${engine.name ?? engine.id}, large`}
          className="max-h-[60vh] w-auto self-center"
        />
      ) : (
        <p>{t`No photo yet. Make, type and serial number can be read off it later.`}</p>
      )}
      {error && <ErrorNotice error={error} />}
      <div className="flex flex-wrap gap-2">
        {[true, false].map((capture) => (
          <FileButton
            key={String(capture)}
            label={capture ? t`Plate, from the camera` : t`Plate, from a file`}
            accept={PICTURE_TYPES}
            capture={capture}
            disabled={put.isPending}
            onFile={(file) => {
              const wrong = pictureFault(file)
              setFault(wrong)
              if (!wrong) put.mutate(file)
            }}
          >
            {capture ? t`Take a photo` : t`Choose a file`}
          </FileButton>
        ))}
        {picture && (
          <Button look="quiet" disabled={remove.isPending} onClick={() => remove.mutate()}>
            {t`Remove`}
          </Button>
        )}
      </div>
    </div>
  )
}
