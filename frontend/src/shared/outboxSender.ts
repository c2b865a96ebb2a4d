import { t } from '@lingui/core/macro'
import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { api, problemOf, ProblemError, unwrap } from '@/api/client'
import {
  forget,
  opened,
  readAnew,
  refuse,
  subscribe,
  waiting,
  type KeptRequest,
  type Waiting,
} from '@/api/outbox'
import { noteAnswer, noteAway } from '@/api/reach'
import { keepAnswered } from '@/shared/visitQueries'

const AGAIN_AFTER_MS = 3_000
/** As long as a request may take before it counts as lost. */
const PATIENCE_MS = 20_000

/** Whether the server looked at what was sent and said no; anything else may be otherwise the next time. */
function isRefusal(error: unknown): error is ProblemError {
  return (
    error instanceof ProblemError &&
    error.status >= 400 &&
    error.status < 500 &&
    // Signed out is not refused: it is sent once somebody is signed in again.
    ![401, 408, 425, 429].includes(error.status)
  )
}

async function sendRequest({ method, path, headers, body }: KeptRequest): Promise<void> {
  const signal = AbortSignal.timeout(PATIENCE_MS)
  let response: Response
  try {
    response = await fetch(path, { method, headers, body: body === '' ? undefined : body, signal })
  } catch (error) {
    noteAway()
    throw error instanceof TypeError ? new Error(t`the server does not answer`) : error
  }
  noteAnswer(response)
  if (!response.ok) throw problemOf(await response.json().catch(() => null), response)
}

/** Send one, and have the pages show what came of it. */
async function send(one: Waiting, queryClient: QueryClient): Promise<void> {
  const queryKey = ['engines', one.engineId]
  if (one.kind === 'request') {
    await sendRequest(one)
    forget([one.key])
    await queryClient.cancelQueries({ queryKey })
    void queryClient.invalidateQueries({ queryKey })
    return
  }
  const visitId = one.visitId ?? ''
  const path = { engine_id: one.engineId, visit_id: visitId }
  const answered = await sendTry(one, path)
  await keepAnswered(queryClient, one.engineId, visitId, answered)
  // The pages hear of the cache a tick later: until then the answer is still this one.
  await new Promise((resolve) => setTimeout(resolve, 0))
  forget([one.key])
}

function sendTry(
  one: Extract<Waiting, { kind: 'answer' | 'take-back' }>,
  path: { engine_id: string; visit_id: string },
) {
  const signal = AbortSignal.timeout(PATIENCE_MS)
  if (one.kind === 'take-back') {
    return unwrap(
      api.DELETE('/api/engines/{engine_id}/visits/{visit_id}/tries/{try_id}', {
        params: { path: { ...path, try_id: one.id } },
        signal,
      }),
    )
  }
  const { id, ...body } = one.answer
  return unwrap(
    api.PUT('/api/engines/{engine_id}/visits/{visit_id}/tries/{try_id}', {
      params: { path: { ...path, try_id: id } },
      body,
      signal,
    }),
  )
}

/** Why the last sending failed; shown until one succeeds. */
let trouble: Error | null = null

export function sendingTrouble(): Error | null {
  return trouble
}

/** Send what waits, one after the other; false where the server could not be reached. */
async function sendAll(queryClient: QueryClient): Promise<boolean> {
  for (;;) {
    const one = waiting().find((each) => !each.refused)
    if (!one) return true
    try {
      await send(one, queryClient)
      trouble = null
    } catch (error) {
      if (isRefusal(error)) {
        trouble = null
        // An answer that never arrived is as good as taken back.
        if (one.kind === 'take-back' && error.status === 404) forget([one.key])
        else refuse(one, { message: error.message, faults: error.faults })
      } else {
        trouble = error as Error
        // The same place in the order, so that everybody who checks hears of it.
        refuse(one, undefined)
        return false
      }
    }
  }
}

/** One tab at a time sends; where the browser cannot tell, each does, and what arrives twice is stored once. */
async function alone(work: () => Promise<boolean>): Promise<boolean> {
  if (!('locks' in navigator)) return work()
  return await navigator.locks.request('pronostico.outbox', async () => {
    // What another tab sent meanwhile is not sent again.
    await readAnew()
    return work()
  })
}

/** Sends what waits for as long as the application is open, whichever page is shown. */
export function useOutboxSender() {
  const queryClient = useQueryClient()
  useEffect(() => {
    let running = false
    let stopped = false
    let timer: ReturnType<typeof setTimeout> | undefined
    async function run() {
      if (running || stopped || !waiting().some((one) => !one.refused)) return
      running = true
      clearTimeout(timer)
      const reached = await alone(() => sendAll(queryClient))
      running = false
      if (!reached && !stopped) timer = setTimeout(run, AGAIN_AFTER_MS)
      else if (!stopped) void run()
    }
    // While it waits for the server again only the clock sends: what is answered meanwhile joins the line.
    const unsubscribe = subscribe(() => {
      if (trouble === null) void run()
    })
    const hurry = () => void run()
    window.addEventListener('online', hurry)
    window.addEventListener('pronostico:send', hurry)
    void opened.then(run)
    return () => {
      stopped = true
      clearTimeout(timer)
      unsubscribe()
      window.removeEventListener('online', hurry)
      window.removeEventListener('pronostico:send', hurry)
    }
  }, [queryClient])
}

/** Ask for all that waits to be sent now, what was refused among it. */
export function sendNow() {
  for (const one of waiting()) if (one.refused) refuse(one, undefined)
  window.dispatchEvent(new Event('pronostico:send'))
}
