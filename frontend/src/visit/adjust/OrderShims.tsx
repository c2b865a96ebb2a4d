import { t } from '@lingui/core/macro'
import { Link } from 'react-router'
import { ORDERS_ADDRESS } from '@/api/addresses'
import type { AdjustStep, AwaitedPart, Engine, Visit } from '@/api/client'
import { Button } from '@/design/Button'
import { today, fixed } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { useProgress, WORK_OPEN } from '@/shared/progressQueries'

/** Puts the shims that are missing on order, so that the work waits for them. */
export function OrderShims({
  order,
  engine,
  visit,
}: {
  order: AdjustStep['plan']['shims']['order']
  engine: Engine
  visit: Visit
}) {
  const keep = useProgress(engine.id, visit)
  const awaited = visit.progress?.awaited ?? []
  const diameter_mm = engine.shim_series?.diameter_mm ?? null
  const isOrdered = (shim_mm: number) =>
    awaited.some((part) => part.shim_mm === shim_mm && part.arrived == null)
  const missing: AwaitedPart[] = order
    .filter((one) => !isOrdered(one.shim_mm))
    .map(({ shim_mm, count }) => ({
      what: t`shim ${fixed(shim_mm, 3)} mm`,
      source: '',
      ordered: today(),
      arrived: null,
      count,
      shim_mm,
      diameter_mm,
    }))
  if (order.length === 0) return null
  if (missing.length === 0) {
    return (
      <Link to={ORDERS_ADDRESS} className="ml-2 font-normal">
        {t`on order`}
      </Link>
    )
  }
  return (
    <>
      <Button
        className="ml-2"
        disabled={keep.isPending}
        onClick={() =>
          keep.mutate({
            ...WORK_OPEN,
            ...visit.progress,
            state: 'waiting',
            awaited: [...awaited, ...missing],
          })
        }
      >
        {t`Put on order`}
      </Button>
      {keep.error && <ErrorNotice error={keep.error} />}
    </>
  )
}
