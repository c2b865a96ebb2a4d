import { openDB, type IDBPDatabase } from 'idb'
import type { TryIn } from './client'

/**
 * What is not stored yet, kept by the browser until the server has stored or refused it: a reload, a flat
 * battery, a closed browser or a second tab loses none. Each waits under a key of its own, so that no tab ever
 * writes over what another one keeps. All of it carries its identifiers: sent twice it is stored once.
 */

export type SentTry = TryIn & { id: string }
export type Refusal = { message: string; faults: { path: string; message: string }[] }

/** A request as it was about to be sent, and what it is called. */
export type KeptRequest = {
  kind: 'request'
  method: string
  /** With the query. */
  path: string
  headers: [string, string][]
  body: Blob | string
  words: string
}

/** What is to be sent; of a case where `visitId` is null. */
export type Given = { engineId: string; visitId: string | null } & (
  { kind: 'answer'; answer: SentTry } | { kind: 'take-back'; id: string } | KeptRequest
)
export type Waiting = Given & {
  /** Its own key, and its place in the order. */
  key: string
  at: number
  refused?: Refusal
}

const NAME = 'pronostico.outbox'
const STORE = 'waiting'
/** Where answers waited before there was a database for them. */
const FORMER_PREFIX = 'pronostico.outbox.'

// What the page knows is what waits; the database follows it, and outlives it.
const held = new Map<string, Waiting>()
let known: Waiting[] = []
const listeners = new Set<() => void>()
const tabs = new BroadcastChannel(NAME)
let database: IDBPDatabase | undefined

function changed() {
  known = [...held.values()].sort((a, b) => a.at - b.at)
  for (const listener of listeners) listener()
}

function isSound(one: unknown): one is Waiting {
  const { at, engineId, kind } = one as Partial<Waiting>
  return typeof at === 'number' && typeof engineId === 'string' && typeof kind === 'string'
}

// Stored or given up here, while the database may still have them.
const gone = new Set<string>()
// When each came to be in the database, as this page counts: what has none is on its way, or has no room there.
const storedAt = new Map<string, number>()
let steps = 0
/** On their way into the database, which has an older state of them or none. */
const inFlight = new Set<string>()

/** What other tabs kept is known, and what they sent or gave up is not any more. */
export async function readAnew(): Promise<void> {
  if (!database) return
  const began = steps
  const kept = (await database.getAll(STORE)).filter(isSound).filter((one) => !gone.has(one.key))
  const there = new Set(kept.map((one) => one.key))
  // What came into the database after it was read is not missing from it.
  for (const key of held.keys()) {
    if (!there.has(key) && (storedAt.get(key) ?? Infinity) <= began) held.delete(key)
  }
  for (const one of kept.filter(({ key }) => !inFlight.has(key))) {
    held.set(one.key, one)
    if (!storedAt.has(one.key)) storedAt.set(one.key, began)
  }
  changed()
}

async function write(one: Waiting): Promise<void> {
  inFlight.add(one.key)
  await opened
  try {
    const writing = database?.transaction(STORE, 'readwrite', { durability: 'strict' })
    await writing?.store.put(one)
    await writing?.done
    if (!writing) return
    // Sent or given up meanwhile.
    if (gone.has(one.key)) await database?.delete(STORE, one.key)
    storedAt.set(one.key, ++steps)
    inFlight.delete(one.key)
    tabs.postMessage('changed')
  } catch {
    // It waits for as long as the page is open.
  }
}

async function open(): Promise<void> {
  try {
    database = await openDB(NAME, 1, {
      upgrade: (made) => void made.createObjectStore(STORE, { keyPath: 'key' }),
    })
    for (const key of Object.keys(localStorage).filter((one) => one.startsWith(FORMER_PREFIX))) {
      const former: unknown = JSON.parse(localStorage.getItem(key) ?? 'null')
      if (former !== null && isSound(former)) await database.put(STORE, { ...former, key })
      localStorage.removeItem(key)
    }
    await readAnew()
  } catch {
    // A browser that keeps nothing: all waits in the page.
  }
}

/** Once what waited before is known. */
export const opened: Promise<void> = open()

// What another tab kept, sent or gave up.
tabs.onmessage = () => void readAnew()

export function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** All that waits, in the order in which it was given; the same array until something changes. */
export function waiting(): Waiting[] {
  return known
}

/** Keep something until it is stored; settled once the browser has it. */
export function keep(given: Given): Promise<void> {
  // Never at the same moment as the one before it: the order is what counts.
  const at = Math.max(Date.now(), (known.at(-1)?.at ?? 0) + 1)
  const one: Waiting = { ...given, at, key: `${at}.${crypto.randomUUID()}` }
  held.set(one.key, one)
  changed()
  return write(one)
}

/** It is stored, or given up. */
export function forget(keys: string[]) {
  for (const key of keys) {
    gone.add(key)
    held.delete(key)
    storedAt.delete(key)
  }
  changed()
  void Promise.all(keys.map((key) => database?.delete(STORE, key))).then(
    () => tabs.postMessage('changed'),
    () => undefined,
  )
}

/** The server said no: sending the same again would change nothing, until somebody asks for it. */
export function refuse(one: Waiting, refused: Refusal | undefined) {
  if (!held.has(one.key)) return
  const now = { ...one, refused }
  held.set(one.key, now)
  changed()
  void write(now)
}
