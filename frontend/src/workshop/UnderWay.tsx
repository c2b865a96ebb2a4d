import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { Link } from 'react-router'
import { engineAddress, measureAddress } from '@/api/addresses'
import type { ShopLanes } from '@/api/client'
import { day } from '@/design/format'
import { WORK_STATES } from '@/shared/workStates'
import { isDue } from './timelineList'
import { workInOrder } from './workOrder'

/** The work that is not done, what is promised first at the top; and how many checks are due. */
export function UnderWay({ shop }: { shop: ShopLanes }) {
  const work = workInOrder(shop.timelines)
  const due = shop.timelines.filter((one) => one.archived === null && isDue(one, shop.today))
  if (work.length === 0 && due.length === 0) return null
  return (
    <section
      aria-label={t`Work under way`}
      className="mb-4 border-l-6 border-ink bg-sheet px-4 py-2"
    >
      <ul>
        {work.map(({ timeline, one }) => (
          <li key={`${timeline.id} ${one.visit}`} className="flex flex-wrap gap-x-4 py-1">
            <Link to={engineAddress(timeline.id)} className="font-semibold">
              {timeline.name}
            </Link>
            <Link
              to={
                timeline.adjustment === 'hydraulic'
                  ? engineAddress(timeline.id)
                  : measureAddress(timeline.id, one.visit)
              }
            >
              {' '}
              {one.state === 'ready' || one.state === 'open'
                ? t`continue visit ${one.visit}`
                : t`open visit ${one.visit}`}
            </Link>
            <span>
              {WORK_STATES[one.state]}
              {one.waits_for.length > 0 && `: ${one.waits_for.join(', ')}`}
              {one.since && t`, ordered ${day(one.since)}`}
              <span className="text-ink-soft">
                <Trans>, begun {day(one.day)}</Trans>
              </span>
            </span>
            <Promised promised={one.promised} today={shop.today} />
          </li>
        ))}
      </ul>
      {due.length > 0 && (
        <p className="text-sm">
          <Link to="/?show=due">
            <Plural value={due.length} one="# check is due" other="# checks are due" />
          </Link>
        </p>
      )}
    </section>
  )
}

function Promised({ promised, today }: { promised: string | null; today: string }) {
  if (promised === null) return null
  const late = promised < today
  const when = promised === today ? t`today` : day(promised)
  return (
    <strong className={late ? 'text-tight' : ''}>
      {late ? t`was promised for ${when}` : t`promised for ${when}`}
    </strong>
  )
}
