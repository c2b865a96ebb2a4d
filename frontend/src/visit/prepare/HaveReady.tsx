import { t } from '@lingui/core/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Engine, type KitItem } from '@/api/client'
import { engineQuery } from '@/api/queries'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { PartLines } from '@/shared/PartLines'

/** What to have ready before this engine is opened: kept with the engine, for the next time as well. */
export function HaveReady({ engine }: { engine: Engine }) {
  const queryClient = useQueryClient()
  const kit = engine.kit ?? []
  const of = (kind: KitItem['kind']) => kit.filter((one) => (one.kind ?? 'part') === kind)
  const keep = useMutation({
    mutationFn: (items: KitItem[]) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/kit', {
          params: { path: { engine_id: engine.id } },
          body: { kit: items, was: kit },
        }),
      ),
    onSuccess: (detail) => {
      queryClient.setQueryData(engineQuery(engine.id).queryKey, detail)
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
        items={of('part')}
        onChange={(parts, onError) => keep.mutate([...parts, ...of('tool')], { onError })}
        make={(typed): KitItem => ({ ...typed, kind: 'part' })}
      />
      <h3 className="px-4 font-semibold">{t`Tools`}</h3>
      <PartLines
        priced={false}
        label={t`Socket, key or special tool`}
        items={of('tool')}
        onChange={(tools, onError) => keep.mutate([...of('part'), ...tools], { onError })}
        make={(typed): KitItem => ({ ...typed, kind: 'tool' })}
      />
      {keep.error && <ErrorNotice error={keep.error} />}
    </Sheet>
  )
}
