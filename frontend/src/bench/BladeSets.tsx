import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, done, unwrap, type BladeSet } from '@/api/client'
import { bladeSetsQuery, enginesQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { Sheet } from '@/design/Sheet'
import { BladeSetForm } from '@/blades/BladeSetForm'
import { BladeSetGaps, BladeSetRange } from '@/blades/BladeSetFacts'

/** The workshop's sets of blades, held against an engine's spec where one is chosen. */
export function BladeSets() {
  const { unit } = usePreferences()
  const [against, setAgainst] = useState('')
  const [editing, setEditing] = useState<string>()
  const [put, setPut] = useState<BladeSet>()
  const queryClient = useQueryClient()
  const { data: engines = [] } = useQuery(enginesQuery)
  const { data: sets, error } = useQuery(bladeSetsQuery(against || undefined))
  const refresh = () => queryClient.invalidateQueries({ queryKey: ['blade-sets'] })
  const away = useMutation({
    mutationFn: async (set: BladeSet) => {
      await done(api.DELETE('/api/blade-sets/{set_id}', { params: { path: { set_id: set.id } } }))
      setPut(set)
    },
    onSuccess: refresh,
  })
  const back = useMutation({
    mutationFn: (set: BladeSet) =>
      unwrap(
        api.PUT('/api/blade-sets/{set_id}', {
          params: { path: { set_id: set.id } },
          body: { name: set.name, text: set.text, unit: set.unit },
        }),
      ),
    onSuccess: async () => {
      setPut(undefined)
      await refresh()
    },
  })
  return (
    <>
      <Sheet
        title={t`Feeler gauge sets`}
        aside={
          <label className="flex items-center gap-2 text-sm">
            {t`gaps for`}
            <select
              value={against}
              onChange={(event) => setAgainst(event.target.value)}
              className="min-h-11 rounded-card border border-rule-strong bg-sheet px-2"
            >
              <option value="">{t`no engine`}</option>
              {engines.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
          </label>
        }
      >
        {error && <ErrorNotice error={error} />}
        {!sets && !error && <Loading what={t`the feeler gauge sets`} />}
        {put && (
          <p role="status" className="flex items-center gap-3 border-b border-rule px-4 py-1">
            <Trans>{put.name} is archived; visits that used it keep it.</Trans>
            <Button look="quiet" onClick={() => back.mutate(put)}>
              {t`Restore`}
            </Button>
          </p>
        )}
        {away.error && <ErrorNotice error={away.error} />}
        {back.error && <ErrorNotice error={back.error} />}
        {sets?.length === 0 && (
          <p className="p-4 text-ink-soft">{t`No set yet: type one below, on one line.`}</p>
        )}
        <ul>
          {sets?.map((set) => (
            <li key={set.id} className="border-b border-rule last:border-0">
              {editing === set.id ? (
                <BladeSetForm
                  set={set}
                  submitText={t`Save set`}
                  onKept={() => setEditing(undefined)}
                  onLeave={() => setEditing(undefined)}
                />
              ) : (
                <div className="flex items-start justify-between gap-4 px-4 py-2">
                  <div className="min-w-0">
                    <strong>{set.name}</strong> <BladeSetRange set={set} unit={unit} />
                    <p className="text-sm text-ink-soft">{set.text}</p>
                    <BladeSetGaps set={set} unit={unit} />
                  </div>
                  <div className="flex shrink-0">
                    <Button
                      look="quiet"
                      aria-label={t`Edit ${set.name}`}
                      onClick={() => setEditing(set.id)}
                    >
                      {t`edit`}
                    </Button>
                    <Button
                      look="quiet"
                      aria-label={t`Archive ${set.name}`}
                      onClick={() => away.mutate(set)}
                    >
                      {t`archive`}
                    </Button>
                  </div>
                </div>
              )}
            </li>
          ))}
        </ul>
      </Sheet>
      <Sheet title={t`New set`}>
        <BladeSetForm submitText={t`Save set`} onKept={() => undefined} />
      </Sheet>
    </>
  )
}
