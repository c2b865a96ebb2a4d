import { plural, t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { queryOptions, useQuery } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import { engineAddress, stepAddress } from '@/api/addresses'
import { api, unwrap, type DueCheck, type UnreadMeter, type Week } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { day, usage } from '@/design/format'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { SelectField } from '@/design/SelectField'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { MeterReading } from '@/shared/MeterReading'
import { Reach } from '@/shared/Reach'
import { WORK_STATES } from '@/shared/workStates'
import { GROUPINGS, groupsOf, meterMail, STRETCHES, type Grouping } from './weekGroups'

const weekQuery = queryOptions({
  queryKey: ['week'],
  queryFn: () => unwrap(api.GET('/api/week')),
})

/** The week at a glance: what falls due, what was promised, whose meter wants to be read. */
export function WeekPage() {
  const week = useQuery(weekQuery)
  useTitle(t`The week`)
  if (week.data) return <WeekView week={week.data} />
  return week.error ? <ErrorNotice error={week.error} /> : <Loading what={t`the week`} />
}

function WeekView({ week }: { week: Week }) {
  const [choice, setChoice] = useSearchParams()
  const asked = choice.get('by') ?? 'day'
  const grouping: Grouping = Object.hasOwn(GROUPINGS, asked) ? (asked as Grouping) : 'day'
  const far = choice.get('far') === 'yes'
  const near = week.checks.filter((one) => far || one.within !== 'later')
  const later = week.checks.length - near.length
  const choose = (key: string, value: string | null) =>
    setChoice(
      (before) => {
        if (value === null) before.delete(key)
        else before.set(key, value)
        return before
      },
      { replace: true },
    )
  return (
    <div className="mx-auto max-w-[1100px]">
      <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1>{t`The week`}</h1>
          <p className="text-ink-soft">{t`${day(week.monday)} to ${day(week.sunday)}`}</p>
        </div>
        <div className="no-print flex flex-wrap items-end gap-2">
          <SelectField
            label={t`Checks by`}
            value={grouping}
            choices={Object.entries(GROUPINGS).map(([id, label]) => ({
              id: id as Grouping,
              label,
            }))}
            onChange={(by) => choose('by', by === 'day' ? null : by)}
          />
          <Link to="/bench#calendar" className={buttonClass('quiet')}>
            {t`Calendar link`}
          </Link>
          <Button onClick={() => window.print()}>{t`Print`}</Button>
        </div>
      </div>
      <div className="flex flex-col gap-4">
        <Promised week={week} />
        {week.checks.length === 0 && (
          <Empty>
            <Trans>
              No check is due by any date yet: an engine needs a visit first, and two for its rate
              of use. Engines are added on the <Link to="/">workshop page</Link>.
            </Trans>
          </Empty>
        )}
        {groupsOf(near, grouping).map(({ title, checks }) => (
          <Sheet
            key={title}
            title={title}
            aside={<span className="text-sm text-ink-soft">{counted(checks.length)}</span>}
          >
            <ul aria-label={t`Checks: ${title}`}>
              {checks.map((one) => (
                <Check key={one.engine} check={one} grouping={grouping} />
              ))}
            </ul>
          </Sheet>
        ))}
        {(later > 0 || far) && (
          <p className="no-print">
            <Button look="quiet" onClick={() => choose('far', far ? null : 'yes')}>
              {far
                ? t`Leave out what is due in more than a month`
                : t`Show what is due later (${later})`}
            </Button>
          </p>
        )}
        <Meters week={week} />
      </div>
    </div>
  )
}

function counted(count: number): string {
  return plural(count, { one: '# check', other: '# checks' })
}

function Promised({ week }: { week: Week }) {
  if (week.promised.length === 0) return null
  return (
    <Sheet title={t`Promised`}>
      <ul>
        {week.promised.map((one) => (
          <li
            key={`${one.engine} ${one.visit}`}
            className="flex flex-wrap gap-x-4 border-b border-rule px-4 py-2 last:border-0"
          >
            <strong className={one.promised < week.today ? 'text-tight' : ''}>
              {one.promised === week.today ? t`today` : day(one.promised)}
            </strong>
            <Link to={engineAddress(one.engine)} className="font-semibold">
              {one.name}
            </Link>
            <Link to={stepAddress(one.engine, one.visit, 'verify')}>
              <Trans>visit {one.visit}</Trans>
            </Link>
            <span>
              {WORK_STATES[one.state]}
              {one.waits_for.length > 0 && `: ${one.waits_for.join(', ')}`}
            </span>
            <Owner customer={one.customer} />
          </li>
        ))}
      </ul>
    </Sheet>
  )
}

function Owner({ customer }: { customer: DueCheck['customer'] }) {
  if (!customer) return null
  return (
    <span className="text-ink-soft">
      <span className="mr-3">{customer.name}</span>
      <Reach customer={customer} />
    </span>
  )
}

function Check({ check, grouping }: { check: DueCheck; grouping: Grouping }) {
  const { usage_unit: unit, to_go: left } = check
  return (
    <li className="border-b border-rule px-4 py-2 last:border-0">
      <p className="flex flex-wrap gap-x-4">
        {/* The heading says it already, unless the list is by customer or kind. */}
        {(check.day !== null || grouping !== 'day') && (
          <strong className={check.within === 'overdue' ? 'text-tight' : ''}>
            {check.day === null ? STRETCHES[check.within] : t`about ${day(check.day)}`}
          </strong>
        )}
        <Link to={engineAddress(check.engine)} className="font-semibold">
          {check.name}
        </Link>
        <span>
          <Trans>
            at {usage(check.usage, unit)}
            {left > 0
              ? t`, ${check.estimated ? t`about ` : ''}${usage(left, unit)} to go`
              : left < -0.5
                ? t`, ${check.estimated ? t`probably ` : ''}${usage(-left, unit)} over`
                : ''}
          </Trans>
        </span>
        {grouping !== 'customer' && <Owner customer={check.customer} />}
      </p>
      {check.why && <p className="text-sm text-ink-soft">{check.why}</p>}
    </li>
  )
}

function Meters({ week }: { week: Week }) {
  if (week.meters.length === 0) return null
  return (
    <Sheet
      title={t`Ask what the meter shows`}
      aside={
        <span className="text-sm text-ink-soft">
          {t`read too long ago to plan by: over half a check interval, or half a year`}
        </span>
      }
    >
      <ul>
        {week.meters.map((one) => (
          <Meter key={one.engine} meter={one} />
        ))}
      </ul>
    </Sheet>
  )
}

function Meter({ meter }: { meter: UnreadMeter }) {
  const { customer, usage_unit: unit } = meter
  const last = usage(meter.last_usage, unit)
  const subject = encodeURIComponent(t`Meter reading: ${meter.name}`)
  const body = encodeURIComponent(meterMail(meter.name, day(meter.last_day), last))
  return (
    <li className="border-b border-rule px-4 py-2 last:border-0">
      <p className="flex flex-wrap gap-x-4">
        <Link to={engineAddress(meter.engine)} className="font-semibold">
          {meter.name}
        </Link>
        <span>
          <Trans>
            last read {day(meter.last_day)}: {last}
          </Trans>
          {meter.likely !== null && t`, probably about ${usage(meter.likely, unit)} now`}
        </span>
        <Owner customer={customer} />
        <a
          className="no-print"
          href={`mailto:${customer?.email ?? ''}?subject=${subject}&body=${body}`}
        >
          {t`Ask by mail`}
        </a>
      </p>
      <div className="no-print mt-1">
        <MeterReading engineId={meter.engine} usageUnit={unit} name={meter.name} />
      </div>
    </li>
  )
}
