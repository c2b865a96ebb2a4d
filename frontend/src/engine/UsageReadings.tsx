import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Engine, type UsageReading } from '@/api/client'
import { Button } from '@/design/Button'
import { day, usage } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { MeterReading } from '@/shared/MeterReading'

/** The meter read between visits: the next check is dated by it. */
export function UsageReadings({ engine }: { engine: Engine }) {
  const queryClient = useQueryClient()
  const takeBack = useMutation({
    mutationFn: (body: UsageReading) =>
      unwrap(
        api.POST('/api/engines/{engine_id}/usage-readings/taken-back', {
          params: { path: { engine_id: engine.id } },
          body,
        }),
      ),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: ['engines'] }),
  })
  return (
    <div className="mb-4">
      <h3 className="font-semibold">{t`Read between visits`}</h3>
      <ul>
        {(engine.usage_readings ?? []).map((one) => (
          <li
            key={`${one.date} ${one.usage}`}
            className="flex min-h-11 flex-wrap items-center gap-x-3"
          >
            <Trans>
              {day(one.date)}: {usage(one.usage, engine.usage_unit)} in all
            </Trans>
            <Button look="quiet" onClick={() => takeBack.mutate(one)}>
              {t`undo`}
            </Button>
          </li>
        ))}
      </ul>
      {takeBack.error && <ErrorNotice error={takeBack.error} />}
      <MeterReading
        engineId={engine.id}
        usageUnit={engine.usage_unit}
        name={engine.name ?? engine.id}
      />
    </div>
  )
}
