import { t } from '@lingui/core/macro'
import { withPartsOf, withQuickCheck } from './visitChanges'
import type { ValvePart, Visit } from './client'
import type { KeptRequest, Waiting } from './outbox'

/**
 * What may wait for the server, what it is called, and how a page shows it meanwhile. Everything here can be
 * sent twice; a change that meets somebody else's is refused when it is sent, and shown with the reason.
 */

type Json = Record<string, unknown>
type Sent = { path: string; query: URLSearchParams; body: Json; method: string; at: number }

type Rule = {
  method: string
  path: RegExp
  words: (sent: Sent, named: string[]) => string
  /** What the page shows meanwhile: the answer of this address, changed. */
  shows?: { at: RegExp; with: (data: never, sent: Sent, named: string[]) => unknown }
}

const VISIT = '/api/engines/[^/]+/visits/[^/]+'
const CASE = '/api/engines/[^/]+/cases/[^/]+'
const visitItself = new RegExp(`^${VISIT}$`)
const verification = new RegExp(`^${VISIT}/verification$`)

const text = (value: unknown) => (typeof value === 'string' ? value : '')
const STATE_WORDS: Record<string, string> = {
  present: t`yes`,
  absent: t`no`,
  unknown: t`not asked`,
}
const spaced = (id: string | undefined) => (id ?? '').replaceAll('-', ' ')
const place = ({ body }: Sent) => (body.cylinder ? t`, cylinder ${String(body.cylinder)}` : '')

type Placed = { id: string; cylinder?: unknown; side?: unknown }
function noted<Known extends { findings: Placed[] }>(known: Known, { body }: Sent, [id]: string[]) {
  const at = (one: Placed) => `${one.id} ${String(one.cylinder ?? '')} ${String(one.side ?? '')}`
  const now = { ...body, id: id ?? '' } as Placed
  return { ...known, findings: [...known.findings.filter((one) => at(one) !== at(now)), now] }
}

const RULES: Rule[] = [
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/findings/([^/]+)$`),
    words: (sent, [id]) =>
      t`finding ${spaced(id)}, ${STATE_WORDS[text(sent.body.state)] ?? ''}${place(sent)}`,
    shows: { at: visitItself, with: noted },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${CASE}/findings/([^/]+)$`),
    words: (sent, [id]) =>
      t`finding ${spaced(id)}, ${STATE_WORDS[text(sent.body.state)] ?? ''}${place(sent)}`,
    shows: { at: new RegExp(`^${CASE}$`), with: noted },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${CASE}/notebook/([^/]+)$`),
    words: ({ body }) => t`note: ${text(body.text).slice(0, 60)}`,
    shows: {
      at: new RegExp(`^${CASE}/notebook$`),
      with: (known: Placed[], { body, at }, [id]) => [
        ...known.filter((one) => one.id !== id),
        { id, noted_at: new Date(at).toISOString(), text: body.text, media_type: null },
      ],
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${CASE}/notebook/([^/]+)/photograph$`),
    words: ({ query }) => t`photo: ${query.get('text') || t`no caption`}`,
    shows: {
      at: new RegExp(`^${CASE}/notebook$`),
      with: (known: Placed[], { query, at }, [id]) => [
        ...known.filter((one) => one.id !== id),
        {
          id,
          noted_at: new Date(at).toISOString(),
          text: query.get('text') ?? '',
          media_type: 'image/jpeg',
        },
      ],
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/photographs/([^/]+)$`),
    words: ({ query }) => t`photo: ${query.get('text') || query.get('valve') || t`no caption`}`,
    shows: {
      at: new RegExp(`^${VISIT}/photographs$`),
      with: (known: Placed[], { query, at }, [id]) => [
        ...known.filter((one) => one.id !== id),
        {
          id,
          noted_at: new Date(at).toISOString(),
          step: query.get('step'),
          valve: query.get('valve'),
          text: query.get('text') ?? '',
          on_card: false,
        },
      ],
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/photographs/([^/]+)/caption$`),
    words: ({ body }) => t`caption: ${text(body.text)}`,
    shows: {
      at: new RegExp(`^${VISIT}/photographs$`),
      with: (known: Placed[], { body }, [id]) =>
        known.map((one) => (one.id === id ? { ...one, ...body, was: undefined } : one)),
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/settings/([^/]+)$`),
    words: ({ body }) => t`adjustment of ${text(body.valve)}`,
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/settings/[^/]+/lock-ups/[^/]+$`),
    words: () => t`locknut tightened`,
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/valves/([^/]+)/shim$`),
    words: (_, [valve = '']) => t`shim found at ${valve}`,
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/valves/([^/]+)/decision$`),
    words: (_, [valve = '']) => t`decision on ${valve}`,
    shows: {
      at: new RegExp(`^${VISIT}/assessment$`),
      with: (known: { valves: { valve: string }[] }, { body }, [valve]) => ({
        ...known,
        valves: known.valves.map((one) =>
          one.valve === valve ? { ...one, decided: body.decided } : one,
        ),
      }),
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/verification/ticks/([^/]+)$`),
    words: () => t`item ticked off`,
    shows: {
      at: verification,
      with: (known: { ticks: Placed[] }, { body }, [id]) => ({
        ...known,
        ticks: known.ticks.map((one) => (one.id === id ? { ...one, done: body.done } : one)),
      }),
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/verification/complaints/([^/]+)$`),
    words: (_, [id]) => t`outcome of the complaint: ${spaced(id)}`,
    shows: {
      at: verification,
      with: (known: { complaints: { finding: string }[] }, { body }, [id]) => ({
        ...known,
        complaints: known.complaints.map((one) =>
          one.finding === id ? { ...one, verified: body.verified } : one,
        ),
      }),
    },
  },
  {
    method: 'PATCH',
    path: visitItself,
    words: ({ body }) =>
      Object.keys((body.changes ?? {}) as Json)
        .map(fieldName)
        .join(', '),
    shows: {
      at: visitItself,
      with: (known: Json, { body }) => ({ ...known, ...((body.changes ?? {}) as Json) }),
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/quick-checks/([^/]+)$`),
    words: (_, [id]) => t`quick check: ${spaced(id)}`,
    shows: {
      at: visitItself,
      with: (known: { quick_checks: Record<string, { seen: string }> }, { body }, [id = '']) => ({
        ...known,
        quick_checks: withQuickCheck(known.quick_checks, id, body.done === true, text(body.seen)),
      }),
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/parts$`),
    words: () => t`parts removed`,
    shows: { at: visitItself, with: (known: Json, { body }) => ({ ...known, parts: body.parts }) },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/parts-changed/([^/]+)$`),
    words: (_, [valve = '']) => t`parts changed at ${valve}`,
    shows: {
      at: visitItself,
      with: (known: Pick<Visit, 'parts_changed'>, { body }, [valve = '']) => ({
        ...known,
        parts_changed: withPartsOf(known.parts_changed, valve, body.parts as ValvePart[]),
      }),
    },
  },
  {
    method: 'PUT',
    path: new RegExp(`^${VISIT}/valves/([^/]+)/skip$`),
    words: (_, [valve = '']) => t`${valve} skipped`,
  },
  {
    method: 'PUT',
    path: new RegExp(
      `^${VISIT}/(?:verification/(?:figures|recheck|minutes)|cover|school|setting)$`,
    ),
    words: ({ path }) => spaced(path.split('/').at(-1)),
  },
  { method: 'PUT', path: new RegExp(`^${VISIT}/tests/.+$`), words: () => t`measurement or test` },
  {
    method: 'DELETE',
    path: new RegExp(`^(?:${VISIT}/(?:settings|photographs)|${CASE}/notebook)/.+$`),
    words: () => t`something removed`,
  },
]

function fieldName(field: string): string {
  return field.replace(/_c$/, '').replaceAll('_', ' ')
}

function matching(method: string, path: string) {
  for (const rule of RULES) {
    const found = rule.method === method ? rule.path.exec(path) : null
    if (found) return { rule, named: found.slice(1).map(decodeURIComponent) }
  }
  return undefined
}

/** Whether a request may wait for the server. */
export function mayWait(method: string, path: string): boolean {
  return matching(method, path) !== undefined
}

function sentOf({ path, body, method }: KeptRequest, at: number): Sent {
  const url = new URL(path, 'http://here')
  const known = typeof body === 'string' && body !== '' ? (JSON.parse(body) as Json) : {}
  return { path: url.pathname, query: url.searchParams, body: known, method, at }
}

/** What a request that waits is called. */
export function wordsOf(request: Omit<KeptRequest, 'words'>): string {
  const sent = sentOf({ ...request, words: '' }, 0)
  const found = matching(sent.method, sent.path)
  return found ? found.rule.words(sent, found.named) : t`a change`
}

const scopeOf = (path: string) => /^\/api\/engines\/[^/]+\/(?:visits|cases)\/[^/]+/.exec(path)?.[0]

/** An answer of the server as it would be, had all that waits been sent. */
export function asIfSent(path: string, data: unknown, all: Waiting[]): unknown {
  const scope = scopeOf(path)
  if (scope === undefined || typeof data !== 'object' || data === null) return data
  let shown: unknown = data
  for (const one of all) {
    if (one.kind !== 'request' || one.refused || !one.path.startsWith(scope)) continue
    const sent = sentOf(one, one.at)
    const found = matching(sent.method, sent.path)
    if (scopeOf(sent.path) !== scope || !found?.rule.shows?.at.test(path)) continue
    shown = found.rule.shows.with(shown as never, sent, found.named)
  }
  return shown
}

/** Engine and visit of an address; null where it is of a case. */
export function placeOf(path: string): { engineId: string; visitId: string | null } {
  const [, , , engine = '', kind, id = ''] = path.split('/')
  return {
    engineId: decodeURIComponent(engine),
    visitId: kind === 'visits' ? decodeURIComponent(id) : null,
  }
}
