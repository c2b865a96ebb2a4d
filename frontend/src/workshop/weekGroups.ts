import { t } from '@lingui/core/macro'
import type { DueCheck } from '@/api/client'

/** How the checks that fall due are gathered: pure, so that it is tested by itself. */

export const GROUPINGS = { day: t`day`, customer: t`customer`, kind: t`kind of engine` } as const
export type Grouping = keyof typeof GROUPINGS

export const STRETCHES = {
  overdue: t`Due now`,
  'this week': t`This week`,
  'next week': t`Next week`,
  'within a month': t`Within a month`,
  later: t`Later`,
  'no day known': t`No day known yet`,
} as const satisfies Record<DueCheck['within'], string>

export type Group = { title: string; checks: DueCheck[] }

const ORDER = Object.keys(STRETCHES)

/** The checks in groups; what is due first stands first, within a group and among groups. */
export function groupsOf(checks: DueCheck[], grouping: Grouping): Group[] {
  const groups = new Map<string, DueCheck[]>()
  for (const check of checks) {
    const title = titleOf(check, grouping)
    groups.set(title, [...(groups.get(title) ?? []), check])
  }
  const found = [...groups].map(([title, of]) => ({ title, checks: of }))
  if (grouping !== 'day') return found
  const place = (group: Group) => ORDER.indexOf(group.checks[0]?.within ?? 'later')
  return found.sort((a, b) => place(a) - place(b))
}

function titleOf(check: DueCheck, grouping: Grouping): string {
  switch (grouping) {
    case 'day':
      return STRETCHES[check.within]
    case 'customer':
      return check.customer?.name ?? t`nobody named`
    case 'kind':
      return check.kind ?? t`kind not entered`
  }
}

/** What a customer is asked: what the meter of their engine shows. */
export function meterMail(name: string, lastDay: string, lastUsage: string): string {
  return [
    t`Please read the usage meter of ${name} and reply with what it shows and the date.`,
    '',
    t`When it was read last, on ${lastDay}, the running total was ${lastUsage}.`,
    t`With it the next valve check can be planned.`,
    '',
  ].join('\r\n')
}
