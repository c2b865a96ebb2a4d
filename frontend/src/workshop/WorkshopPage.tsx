import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { CUSTOMERS_ADDRESS, NEW_ENGINE_ADDRESS, WEEK_ADDRESS } from '@/api/addresses'
import type { ShopLanes } from '@/api/client'
import { findingsQuery, workshopQuery } from '@/api/queries'
import { buttonClass } from '@/design/Button'
import { ErrorNotice, Loading } from '@/design/Notice'
import { useTitle } from '@/design/useTitle'
import { ImportRecord } from '@/shared/ImportRecord'
import { FourWays } from './FourWays'
import { LaneRow } from './EngineTimeline'
import { lanesShown, ORDERS, SHOWN, type Order, type Shown } from './timelineList'
import { UnderWay } from './UnderWay'
import { laneTime, type LaneTime } from './timelineScale'

/** What is in the workshop and what wants attention, along time. */
export function WorkshopPage() {
  const { data: shop, error, refetch } = useQuery(workshopQuery)
  useTitle(t`Workshop`)
  return (
    <div className="mx-auto max-w-[1400px]">
      <div className="mb-3 flex flex-wrap items-end justify-between gap-4">
        <h1>{t`Workshop`}</h1>
        <div className="flex flex-wrap items-start gap-2">
          <Link to={WEEK_ADDRESS} className={buttonClass('quiet')}>
            {t`The week`}
          </Link>
          <Link to={CUSTOMERS_ADDRESS} className={buttonClass('quiet')}>
            {t`Customers`}
          </Link>
          <ImportRecord />
          <Link to={NEW_ENGINE_ADDRESS} className={buttonClass('main')}>
            {t`Add engine`}
          </Link>
        </div>
      </div>
      {error && <ErrorNotice error={error} retry={() => void refetch()} />}
      {!shop && !error && <Loading what={t`the engines`} />}
      {shop?.timelines.length === 0 && <FourWays />}
      {shop && <UnderWay shop={shop} />}
      {shop && shop.timelines.length > 0 && <Lanes shop={shop} />}
    </div>
  )
}

function Lanes({ shop }: { shop: ShopLanes }) {
  const { data: findings } = useQuery(findingsQuery)
  const labels = useMemo(
    () => new Map((findings ?? []).map((finding) => [finding.id, finding.label])),
    [findings],
  )
  const [choice, setChoice] = useSearchParams()
  const shown = ownKey(SHOWN, choice.get('show'), 'all')
  const order = ownKey(ORDERS, choice.get('order'), 'look')
  // The address follows what is typed; it comes too late to be what the field shows.
  const [typed, setTyped] = useState(choice.get('find') ?? '')
  // The letters stand at once; a thousand timelines follow when there is time.
  const wanted = useDeferredValue(typed)
  const time = useMemo(() => laneTime(shop.today), [shop.today])
  const timelines = useMemo(
    () => lanesShown(shop.timelines, { shown, order, typed: wanted, today: shop.today, labels }),
    [shop, shown, order, wanted, labels],
  )
  const archived = shop.timelines.filter((one) => one.archived !== null).length
  const choose = (key: string, value: string, usual: string) => {
    if (key === 'find') setTyped(value)
    setChoice(
      (before) => {
        if (value === usual) before.delete(key)
        else before.set(key, value)
        return before
      },
      { replace: true },
    )
  }
  return (
    <>
      <Choices shown={shown} order={order} typed={typed} choose={choose} />
      {shop.calculating && shop.calculating.total > 0 && (
        <p className="mb-2 flex items-center gap-3 text-sm" role="status">
          <progress
            value={shop.calculating.done}
            max={shop.calculating.total}
            aria-label={t`engines calculated`}
            className="h-3 w-40 accent-accent"
          />
          <Trans>
            Calculating {shop.calculating.done} of {shop.calculating.total} engines. What is shown
            is current.
          </Trans>
        </p>
      )}
      <div className="bg-sheet">
        <Axis time={time} />
        <ul aria-label={t`Engines`}>
          {timelines.map((timeline) => (
            <LaneRow
              key={timeline.id}
              timeline={timeline}
              time={time}
              today={shop.today}
              labels={labels}
              failed={shop.failed.includes(timeline.id)}
            />
          ))}
        </ul>
        {timelines.length === 0 && (
          <p className="px-4 py-6 text-ink-soft">
            {t`No engine matches. Choose “all” or shorten the search.`}
          </p>
        )}
      </div>
      <p className="mt-2 text-sm text-ink-soft" role="status">
        <Trans>
          {timelines.length} of {shop.timelines.length} engines
        </Trans>
        {archived > 0 && t`, ${archived} archived`}
        {t`. Dates are calculated from each engine’s own rate of use, first visit to last.`}
      </p>
    </>
  )
}

function ownKey<Key extends string>(
  words: Record<Key, string>,
  asked: string | null,
  usual: Key,
): Key {
  return asked !== null && Object.hasOwn(words, asked) ? (asked as Key) : usual
}

function Choices({
  shown,
  order,
  typed,
  choose,
}: {
  shown: Shown
  order: Order
  typed: string
  choose: (key: string, value: string, usual: string) => void
}) {
  const box = 'min-h-11 rounded-card border border-rule-strong bg-sheet px-3 py-2'
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2">
      <label htmlFor="lanes-find">{t`Search engines`}</label>
      <input
        id="lanes-find"
        type="search"
        value={typed}
        placeholder={t`name, customer, complaint`}
        className={`${box} w-64`}
        onChange={(event) => choose('find', event.target.value, '')}
      />
      <label htmlFor="lanes-shown">{t`Show`}</label>
      <select
        id="lanes-shown"
        value={shown}
        className={box}
        onChange={(event) => choose('show', event.target.value, 'all')}
      >
        {Object.entries(SHOWN).map(([key, word]) => (
          <option key={key} value={key}>
            {word}
          </option>
        ))}
      </select>
      <label htmlFor="lanes-order">{t`sort by`}</label>
      <select
        id="lanes-order"
        value={order}
        className={box}
        onChange={(event) => choose('order', event.target.value, 'look')}
      >
        {Object.entries(ORDERS).map(([key, word]) => (
          <option key={key} value={key}>
            {word}
          </option>
        ))}
      </select>
    </div>
  )
}

function Axis({ time }: { time: LaneTime }) {
  return (
    <div className="sticky top-0 z-10 grid grid-cols-2 gap-x-4 border-b-2 border-ink bg-sheet px-4 pt-2 text-sm text-ink-soft lg:grid-cols-[var(--lane-columns)]">
      <span>{t`Engine`}</span>
      <svg
        width="100%"
        height={22}
        aria-hidden="true"
        className="order-last col-span-2 block overflow-visible lg:order-none lg:col-span-1"
      >
        {time.halves
          .filter((half) => Math.abs(half.at - time.at(time.today)) > 7)
          .map((half) => (
            <text
              key={half.key}
              x={`${half.at}%`}
              y={15}
              fontSize={12}
              textAnchor="middle"
              fill="var(--color-ink-soft)"
            >
              {half.word}
            </text>
          ))}
        <text
          x={`${time.at(time.today)}%`}
          y={15}
          fontSize={13}
          fontWeight={650}
          textAnchor="middle"
          fill="var(--color-accent)"
        >
          {t`today`}
        </text>
      </svg>
      <span>{t`Next check`}</span>
      <span className="hidden lg:block">{t`Worst valve now, and what changed`}</span>
    </div>
  )
}
