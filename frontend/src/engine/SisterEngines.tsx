import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { engineAddress } from '@/api/addresses'
import { api, unwrap, type Engine, type Sisters } from '@/api/client'
import { sistersQuery } from '@/api/queries'
import { Button } from '@/design/Button'
import { movement, percent, sdText, type LengthUnit } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { named } from '@/design/names'

const SIDES = ['intake', 'exhaust'] as const

/** What the other engines of its kind make expected of an engine, and whether it differs from them. */
export function SisterEngines({ engine, unit }: { engine: Engine; unit: LengthUnit }) {
  const known = useQuery(sistersQuery(engine.id))
  if (known.error) return <ErrorNotice error={known.error} />
  if (!known.data?.kind) return null
  const { kind, left_out, sisters, expected } = known.data
  return (
    <Sheet
      title={t`Sister engines`}
      aside={
        <span className="text-sm text-ink-soft">
          <Trans>engines of the kind “{kind}”</Trans>
        </span>
      }
    >
      <div className="flex flex-col gap-2 px-4 py-2">
        {sisters.length === 0 && <p>{t`No other engine of this kind is on record yet.`}</p>}
        <Expected expected={expected} unit={unit} />
        {expected.some((one) => one.differs) && <Differs expected={expected} />}
        {sisters.length > 0 && <Drifts sisters={sisters} unit={unit} />}
        {sisters.length > 0 && <LeavingOut engineId={engine.id} leftOut={left_out} />}
      </div>
    </Sheet>
  )
}

/** The drift that sister engines make expected, in a line. */
export function Expected({ expected, unit }: { expected: Sisters['expected']; unit: LengthUnit }) {
  const [first] = expected
  if (!first) return null
  const count = Math.max(...expected.map((one) => one.sisters))
  return (
    <p>
      <Trans>
        Expected from <Plural value={count} one="# sister engine" other="# sister engines" />:{' '}
        {expected
          .map(
            (one) =>
              `${named(one.side)} ${movement(one.mean_mm_per_interval, unit)} ± ${sdText(one.sd_mm_per_interval, unit)}`,
          )
          .join(', ')}{' '}
        per check interval. The forecasts take this into account.
      </Trans>
    </p>
  )
}

function Differs({ expected }: { expected: Sisters['expected'] }) {
  const apart = expected.filter((one) => one.differs)
  return (
    <p className="border-l-4 border-doubt pl-3">
      <Trans>
        <strong>
          {apart.map((one) => `${named(one.side)} (${percent(one.p_differs ?? 0)})`).join(', ')}:
          this engine drifts differently from its sister engines.
        </strong>{' '}
        Another fuel, duty or way of setting, or a fault, may be the reason. If it is not of this
        kind after all, leave it out or give it another kind.
      </Trans>
    </p>
  )
}

function Drifts({ sisters, unit }: { sisters: Sisters['sisters']; unit: LengthUnit }) {
  return (
    <table className="w-full border-collapse text-sm">
      <thead>
        <tr className="border-b border-ink text-left text-ink-soft">
          <th className="py-0.5 font-normal">{t`sister engine`}</th>
          {SIDES.map((side) => (
            <th key={side} className="py-0.5 font-normal">
              <Trans>{named(side)}, per interval</Trans>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {sisters.map((one) => (
          <tr key={one.id}>
            <th scope="row" className="py-0.5 text-left font-semibold">
              <Link to={engineAddress(one.id)}>{one.name}</Link>
              {one.why_not && <span className="font-normal text-ink-soft"> ({one.why_not})</span>}
            </th>
            {SIDES.map((side) => {
              const known = one.sides[side]
              return (
                <td key={side}>
                  {known
                    ? `${movement(known.mean_mm, unit)} ± ${sdText(known.sd_mm, unit)}`
                    : t`not known`}
                </td>
              )
            })}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function LeavingOut({ engineId, leftOut }: { engineId: string; leftOut: boolean }) {
  const queryClient = useQueryClient()
  const change = useMutation({
    mutationFn: (left_out: boolean) =>
      unwrap(
        api.PUT('/api/engines/{engine_id}/left-out', {
          params: { path: { engine_id: engineId } },
          body: { left_out },
        }),
      ),
    onSuccess: (known) => {
      queryClient.setQueryData(sistersQuery(engineId).queryKey, known)
      // Nobody waits here for the forecasts to be calculated again.
      void queryClient.invalidateQueries({ queryKey: ['engines'] })
    },
  })
  return (
    <>
      {change.error && <ErrorNotice error={change.error} />}
      <p className="flex flex-wrap items-center justify-between gap-3">
        <span className="text-sm text-ink-soft">
          {leftOut
            ? t`This engine is left out: neither compared with its sister engines nor they with it.`
            : t`An engine that is left out neither draws on its sister engines nor counts for them.`}
        </span>
        <Button look="quiet" disabled={change.isPending} onClick={() => change.mutate(!leftOut)}>
          {leftOut ? t`Compare this engine again` : t`Leave this engine out`}
        </Button>
      </p>
    </>
  )
}
