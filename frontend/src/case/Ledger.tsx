import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Link } from 'react-router'
import { causeAddress } from '@/api/addresses'
import type { Cause, Evidence } from '@/api/client'
import { factor, percent } from '@/design/format'
import { Sheet } from '@/design/Sheet'
import { wording } from './evidence'

const WORTH_SHOWING_DECIBANS = 0.25
const FULL_BAR_DECIBANS = 30

/** What is evidence for a cause and what against it, each with its weight and its reason. */
export function Ledger({ cause }: { cause: Cause }) {
  const worth = (one: Evidence) => Math.abs(one.decibans) >= WORTH_SHOWING_DECIBANS
  return (
    <Sheet
      title={`${cause.label}, ${cause.where}`}
      aside={
        <span className="text-sm text-ink-soft">
          <Trans>{factor(cause.together_decibans)} by all evidence</Trans>
        </span>
      }
    >
      <div className="px-4 py-2">
        <p>{cause.help}</p>
        <p className="mt-1 font-semibold">{cause.advice}</p>
        {cause.caution && (
          <p className="mt-1 border-l-4 border-loose px-3 py-1 font-semibold text-loose">
            {cause.caution}
          </p>
        )}
        <p className="mt-1 text-sm">
          <Trans>Prior {percent(cause.prior)}, before any evidence</Trans>
          {cause.own_share > 0 && (
            <>
              {' '}
              <Trans>({percent(cause.own_share)} of it from this workshop’s own cases)</Trans>
            </>
          )}
          . <Link to={causeAddress(cause.cause)}>{t`In the handbook`}</Link>
        </p>
      </div>
      <Side
        heading={t`Evidence for`}
        entries={cause.for.filter(worth)}
        none={t`No evidence for it.`}
      />
      <Side
        heading={t`Evidence against`}
        entries={cause.against.filter(worth)}
        none={t`No evidence against it.`}
      />
      <p className="border-t border-rule px-4 py-2 text-sm text-ink-soft">
        {t`×10 makes a cause ten times likelier, ÷10 ten times less likely. Each factor is for the finding on its own; findings from the same facts share their weight, so together they count for less than their product.`}
      </p>
    </Sheet>
  )
}

type Group = { key: string; first: Evidence; places: string[] }

/** The same finding at several valves with the same weight is one line with its places. */
function grouped(entries: Evidence[]): Group[] {
  const groups = new Map<string, Group>()
  for (const one of entries) {
    const key = `${one.finding} ${one.decibans.toFixed(1)}`
    const group = groups.get(key) ?? { key, first: one, places: [] }
    if (one.where) group.places.push(one.where)
    groups.set(key, group)
  }
  const collator = new Intl.Collator(undefined, { numeric: true })
  for (const group of groups.values()) group.places.sort(collator.compare)
  return [...groups.values()]
}

/** How much a finding weighs, beside its figure; full at a factor of a thousand. */
function WeightBar({ decibans }: { decibans: number }) {
  const share = Math.min(Math.abs(decibans) / FULL_BAR_DECIBANS, 1)
  return (
    <span aria-hidden="true" className="block h-2 w-16 border border-rule">
      <span
        className={`block h-full ${decibans > 0 ? 'bg-accent' : 'bg-ink-soft'}`}
        style={{ width: `${share * 100}%` }}
      />
    </span>
  )
}

function Side({ heading, entries, none }: { heading: string; entries: Evidence[]; none: string }) {
  return (
    <div className="border-t border-rule">
      <h3 className="px-4 pt-2 text-sm text-ink-soft">{heading}</h3>
      {entries.length === 0 ? (
        <p className="px-4 pb-2">{none}</p>
      ) : (
        <table className="w-full border-collapse">
          <thead className="sr-only">
            <tr>
              <th>{t`times likelier or less likely`}</th>
              <th>{t`weight`}</th>
              <th>{t`finding and reason`}</th>
            </tr>
          </thead>
          <tbody>
            {grouped(entries).map(({ key, first, places }) => (
              <tr key={key} className="align-top">
                <td className="w-16 py-1 pl-4 text-right font-semibold whitespace-nowrap">
                  {factor(first.decibans)}
                </td>
                <td className="w-20 py-2.5 pl-2">
                  <WeightBar decibans={first.decibans} />
                </td>
                <td className="px-3 py-1">
                  {wording(first)}
                  {places.length > 0 && (
                    <span className="text-ink-soft">, {places.join(', ')}</span>
                  )}
                  <div className="text-sm text-ink-soft">
                    {first.why}
                    {first.own_share > 0 && (
                      <>
                        {' '}
                        <Trans>
                          {percent(first.own_share)} of its weight comes from this workshop’s own
                          cases.
                        </Trans>
                      </>
                    )}
                  </div>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}
