import { t } from '@lingui/core/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Engine, type KitItem } from '@/api/client'
import { engineQuery } from '@/api/queries'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { PartLines, type PartsChange } from '@/shared/PartLines'

const isTool = ({ kind }: KitItem) => kind === 'tool'
const isPart = (one: KitItem) => !isTool(one)

/** What to have ready before this engine is opened: kept with the engine, for the next time as well. */
export function HaveReady({ engine }: { engine: Engine }) {
  const queryClient = useQueryClient()
  const kit = engine.kit ?? []
  const { queryKey } = engineQuery(engine.id)
  const keep = useMutation({
    // One after the other: the next one adds to what the one before it left.
    scope: { id: `kit ${engine.id}` },
    mutationFn: (change: PartsChange<KitItem>) => {
      const was = queryClient.getQueryData(queryKey)?.engine.kit ?? kit
      return unwrap(
        api.PUT('/api/engines/{engine_id}/kit', {
          params: { path: { engine_id: engine.id } },
          body: { kit: change(was), was },
        }),
      )
    },
    onSuccess: (detail) => {
      queryClient.setQueryData(queryKey, detail)
      void queryClient.invalidateQueries({ queryKey: ['engines', engine.id] })
    },
  })
  return (
    <Sheet
      title={t`Have ready before you open it`}
      aside={<span className="text-sm text-ink-soft">{t`for every visit of this engine`}</span>}
    >
      <h3 className="px-4 pt-2 font-semibold">{t`Parts that are used up`}</h3>
      <PartLines
        priced
        label={t`Gasket, seal or washer`}
        items={kit.filter(isPart)}
        onChange={(change, onError) =>
          keep.mutate((all) => [...change(all.filter(isPart)), ...all.filter(isTool)], { onError })
        }
        make={(typed): KitItem => ({ ...typed, kind: 'part' })}
      />
      <h3 className="px-4 font-semibold">{t`Tools`}</h3>
      <PartLines
        priced={false}
        label={t`Socket, key or special tool`}
        items={kit.filter(isTool)}
        onChange={(change, onError) =>
          keep.mutate((all) => [...all.filter(isPart), ...change(all.filter(isTool))], { onError })
        }
        make={(typed): KitItem => ({ ...typed, kind: 'tool' })}
      />
      {keep.error && <ErrorNotice error={keep.error} />}
    </Sheet>
  )
}
