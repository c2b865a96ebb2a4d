import { t } from '@lingui/core/macro'
import type { Cause, Diagnosis, Evidence } from '@/api/client'
import { percent } from '@/design/format'
import { causeKey } from './CauseList'

/** What a finding at one place says of one cause, and the valves of it that the cause takes in. */
export type Thread = { cause: string; decibans: number; valves: string[] }

/** A row at the left of the threads: a finding at a place, and what it says of the causes shown. */
export type EvidenceRow = {
  key: string
  label: string
  where: string | null
  valves: string[]
  threads: Thread[]
}

const byNumber = new Intl.Collator(undefined, { numeric: true }).compare
const WORTH_SHOWING = 0.005
const FEWEST = 3
const MOST = 7
const WORTH_A_THREAD_DECIBANS = 0.5
// A place that has less of the probability of its kind is not told apart from the others.
const ONE_PLACE_SHARE = 0.5
const ALIKE_SHARE = 0.25

export function wording(one: Pick<Evidence, 'label' | 'presence'>): string {
  return wordingOf(one.label, [one.presence])
}

/** A finding and how surely it is there, at one place or at several. */
function wordingOf(label: string, presences: number[]): string {
  const [low, high] = [Math.min(...presences), Math.max(...presences)]
  if (low >= 0.995) return label
  if (high < 0.005) return t`not: ${label}`
  const [least, most] = [percent(low), percent(high)]
  return `${label} (${least === most ? most : t`${least} to ${most}`})`
}

/** Valves of one cause with the same finding and nearly the same weight are one row. */
function rowKey(one: Evidence): string {
  return one.valves.length === 1
    ? `${one.finding} ${one.presence >= 0.5}`
    : `${one.finding} ${one.where ?? ''}`
}

/** The findings that say something of the causes shown, those of the chosen cause first. */
export function evidenceRows(causes: Cause[], chosen: Cause | undefined): EvidenceRow[] {
  const rows = new Map<string, EvidenceRow>()
  const presences = new Map<string, Map<string, number>>()
  for (const cause of causes) {
    const spoken = new Map<string, number>()
    for (const one of [...cause.for, ...cause.against]) {
      if (Math.abs(one.decibans) < WORTH_A_THREAD_DECIBANS) continue
      const key = rowKey(one)
      const row = rows.get(key) ?? {
        key,
        label: wording(one),
        where: one.where,
        valves: [],
        threads: [],
      }
      if (!rows.has(key)) rows.set(key, row)
      const here = presences.get(key) ?? new Map<string, number>()
      presences.set(key, here.set(one.where ?? '', one.presence))
      row.label = wordingOf(one.label, [...here.values()])
      const fresh = one.valves.filter((valve) => !row.valves.includes(valve))
      row.valves.push(...fresh)
      if (one.valves.length === 1 && row.valves.length > 1)
        row.where = [...row.valves].sort(byNumber).join(', ')
      const before = spoken.get(key) ?? 0
      if (Math.abs(one.decibans) > Math.abs(before)) spoken.set(key, one.decibans)
    }
    for (const [key, decibans] of spoken) {
      const row = rows.get(key)
      if (!row) continue
      const shared = row.valves.filter((valve) => cause.valves.includes(valve))
      row.threads.push({
        cause: causeKey(cause),
        decibans,
        valves: shared.length > 0 ? shared : [...row.valves],
      })
    }
  }
  const wanted = chosen && causeKey(chosen)
  const weight = (row: EvidenceRow) =>
    Math.max(
      ...row.threads.map((one) => (one.cause === wanted ? 1000 : 0) + Math.abs(one.decibans)),
    )
  return [...rows.values()].sort((a, b) => weight(b) - weight(a))
}

/** A cause as it is listed; of several places where the evidence does not say which of them it is. */
export type ListedCause = { cause: Cause; probability: number; places: number }

/** The places of one kind of cause: one by one, or together where none of them is likely for itself. */
function listed(places: Cause[]): ListedCause[] {
  const [likeliest] = places
  if (!likeliest) return []
  if (places.length > 1 && likeliest.probability < ONE_PLACE_SHARE * likeliest.anywhere) {
    const alike = places.filter((one) => one.probability >= ALIKE_SHARE * likeliest.probability)
    return [{ cause: likeliest, probability: likeliest.anywhere, places: alike.length }]
  }
  return places.map((cause) => ({ cause, probability: cause.probability, places: 1 }))
}

/** The causes that are worth a place at the right of the threads. */
export function shownCauses(diagnosis: Diagnosis): ListedCause[] {
  const kinds = new Map<string, Cause[]>()
  for (const cause of diagnosis.causes) {
    kinds.set(cause.cause, [...(kinds.get(cause.cause) ?? []), cause])
  }
  return [...kinds.values()]
    .flatMap(listed)
    .sort((a, b) => b.probability - a.probability)
    .filter((one, index) => index < FEWEST || one.probability >= WORTH_SHOWING)
    .slice(0, MOST)
}
