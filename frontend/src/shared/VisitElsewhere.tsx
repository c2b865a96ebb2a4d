import { t } from '@lingui/core/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { engineAddress, measureAddress } from '@/api/addresses'
import { api, unwrap } from '@/api/client'
import { enginesQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Popup } from '@/design/Popup'
import { SelectField } from '@/design/SelectField'
import { Deletion } from './DeleteButton'

/** Moves a visit that was begun on the wrong engine, or deletes it. */
export function VisitElsewhere({
  engineId,
  visitId,
  label,
}: {
  engineId: string
  visitId: string
  label: string
}) {
  const [open, setOpen] = useState(false)
  const navigate = useNavigate()
  const close = () => setOpen(false)
  return (
    <>
      <Button
        look="quiet"
        className="min-w-11 px-2!"
        aria-label={t`Move or delete visit ${visitId}`}
        onClick={() => setOpen(true)}
      >
        {label}
      </Button>
      {open && (
        <Popup title={t`Visit ${visitId}`} onClose={close}>
          <section className="mb-4 border-b border-rule pb-4">
            <h3 className="mb-2 font-semibold">{t`Begun on the wrong engine: move it`}</h3>
            <Moving engineId={engineId} visitId={visitId} />
          </section>
          <section>
            <h3 className="mb-2 font-semibold">{t`Not wanted at all: delete it`}</h3>
            <Deletion
              engineId={engineId}
              kind="visit"
              part={visitId}
              onCancel={close}
              onDeleted={() => {
                close()
                void navigate(engineAddress(engineId))
              }}
            />
          </section>
        </Popup>
      )}
    </>
  )
}

function Moving({ engineId, visitId }: { engineId: string; visitId: string }) {
  const { data: engines = [], error } = useQuery(enginesQuery)
  const others = engines.filter((one) => one.id !== engineId)
  const [to, setTo] = useState('')
  const navigate = useNavigate()
  const queryClient = useQueryClient()
  const move = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST('/api/engines/{engine_id}/visits/{visit_id}/moved', {
          params: { path: { engine_id: engineId, visit_id: visitId } },
          body: { to },
        }),
      ),
    onSuccess: async ({ engine, visit }) => {
      await navigate(measureAddress(engine, visit))
      await queryClient.invalidateQueries({ queryKey: ['engines'] })
    },
  })
  if (others.length === 0) return <p>{t`There is no other engine in the workshop.`}</p>
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        move.mutate()
      }}
    >
      <SelectField
        label={t`To engine`}
        value={to}
        choices={[
          { id: '', label: t`choose` },
          ...others.map((one) => ({ id: one.id, label: one.name })),
        ]}
        onChange={setTo}
      />
      <p className="text-sm text-ink-soft">
        {t`Answers, findings, adjustments, photos and the cases opened at this visit go with it. It is refused where the other engine lacks a valve that was measured.`}
      </p>
      {(move.error ?? error) && <ErrorNotice error={move.error ?? error} />}
      <Button type="submit" className="self-start" disabled={to === '' || move.isPending}>
        {t`Move the visit`}
      </Button>
    </form>
  )
}
