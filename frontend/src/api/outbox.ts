import { newId, ProblemError, type TryIn } from './client'

/**
 * Answers that are not stored yet, kept by the browser until the server has stored or refused them: a reload,
 * a flat battery, a closed browser or a second tab loses none. Each waits under a key of its own, so that no
 * tab ever writes over what another one keeps. An answer carries its identifier: sent twice it is stored once.
 */

export type SentTry = TryIn & { id: string }
export type Refusal = { message: string; faults: { path: string; message: string }[] }
export type Waiting = {
  /** Its own key, and its place in the order. */
  key: string
  at: number
  engineId: string
  visitId: string
  refused?: Refusal
} & ({ kind: 'answer'; answer: SentTry } | { kind: 'take-back'; id: string })

/** What is to be sent. */
export type Given =
  | { engineId: string; visitId: string; kind: 'answer'; answer: SentTry }
  | { engineId: string; visitId: string; kind: 'take-back'; id: string }

const PREFIX = 'pronostico.outbox.'

// Where the browser keeps nothing (no room, or not allowed) an answer still waits for as long as the page is open.
const unkept = new Map<string, string>()

function put(key: string, text: string) {
  try {
    localStorage.setItem(key, text)
  } catch {
    unkept.set(key, text)
  }
}

function drop(key: string) {
  unkept.delete(key)
  localStorage.removeItem(key)
}

function parsed(key: string, text: string | null | undefined): Waiting[] {
  try {
    const found = JSON.parse(text ?? '') as Waiting
    const sound = typeof found.at === 'number' && typeof found.visitId === 'string'
    return sound ? [{ ...found, key }] : []
  } catch {
    // What cannot be read cannot be sent; it must not keep the others from being.
    return []
  }
}

function read(): Waiting[] {
  const keys = Object.keys(localStorage).filter((key) => key.startsWith(PREFIX))
  const kept = keys.flatMap((key) => parsed(key, localStorage.getItem(key)))
  const here = [...unkept].flatMap(([key, text]) => parsed(key, text))
  return [...kept, ...here].sort((a, b) => a.at - b.at)
}

let known = read()
const listeners = new Set<() => void>()

function changed() {
  known = read()
  for (const listener of listeners) listener()
}

// What another tab kept, sent or gave up.
window.addEventListener('storage', (event) => {
  if (event.key === null || event.key.startsWith(PREFIX)) changed()
})

export function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** All that waits, in the order in which it was given; the same array until something changes. */
export function waiting(): Waiting[] {
  return known
}

/** Keep something until it is stored. */
export function keep(given: Given) {
  // Never at the same moment as the one before it: the order is what counts.
  const at = Math.max(Date.now(), (known.at(-1)?.at ?? 0) + 1)
  const key = `${PREFIX}${at}.${newId()}`
  put(key, JSON.stringify({ ...given, at }))
  changed()
}

/** It is stored, or given up. */
export function forget(keys: string[]) {
  keys.forEach(drop)
  changed()
}

/** The server said no: sending the same again would change nothing, until somebody asks for it. */
export function refuse(one: Waiting, refused: Refusal | undefined) {
  put(one.key, JSON.stringify({ ...one, refused }))
  changed()
}

/** Whether the server looked at what was sent and said no; anything else may be otherwise the next time. */
export function isRefusal(error: unknown): error is ProblemError {
  return (
    error instanceof ProblemError &&
    error.status >= 400 &&
    error.status < 500 &&
    // Signed out is not refused: it is sent once somebody is signed in again.
    ![401, 408, 425, 429].includes(error.status)
  )
}
