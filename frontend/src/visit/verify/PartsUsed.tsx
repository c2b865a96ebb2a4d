import { t } from '@lingui/core/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Engine, type UsedPart, type Visit } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { PartLines, type PartsChange } from '@/shared/PartLines'
import { useVisitNow } from '@/shared/visitQueries'

/** The parts that were used, for the account on the job card; shims are counted by themselves. */
export function PartsUsed({ engine, visit }: { engine: Engine; visit: Visit }) {
  const queryClient = useQueryClient()
  const used = visit.parts_used
  const visitNow = useVisitNow(engine.id, visit)
  const keep = useMutation({
    // One after the other: the next one adds to what the one before it left.
    scope: { id: `parts used ${engine.id} ${visit.id}` },
    mutationFn: (change: PartsChange<UsedPart>) => {
      const was = visitNow().parts_used
      return unwrap(
        api.PUT('/api/engines/{engine_id}/visits/{visit_id}/verification/parts-used', {
          params: { path: { engine_id: engine.id, visit_id: visit.id } },
          body: { parts: change(was), was },
        }),
      )
    },
    onSuccess: () => queryClient.invalidateQueries({ queryKey: ['engines', engine.id] }),
  })
  const usual = (engine.kit ?? [])
    .filter((one) => one.kind !== 'tool' && !used.some((part) => part.what === one.what))
    .map(({ what, count, price }) => ({ what, count, price }))
  return (
    <Sheet
      title={t`Parts used`}
      aside={
        <span className="text-sm text-ink-soft">{t`new shims are counted by themselves`}</span>
      }
    >
      <PartLines
        priced
        label={t`Part used`}
        items={used}
        onChange={(change, onError) => keep.mutate(change, { onError })}
        make={(typed) => typed}
      >
        {usual.length > 0 && (
          <Button
            disabled={keep.isPending}
            onClick={() => keep.mutate((parts) => [...parts, ...usual])}
          >
            {t`Add this engine’s usual parts`}
          </Button>
        )}
      </PartLines>
      {keep.error && <ErrorNotice error={keep.error} />}
    </Sheet>
  )
}
