import { t } from '@lingui/core/macro'
import { useCallback, useEffect, useRef, useState } from 'react'
import { inLanguage, language } from '@/design/language'

/** Seconds, then a value for each channel; null where nothing came. */
export type SampleRow = (number | null)[]

export type LiveTrace = {
  id: string
  status: 'running' | 'whole' | 'stopped' | 'lost'
  instrument: string
  /** When it was begun, as the record writes it. */
  at: string
  channels: string[]
  heard: string[]
  samples: SampleRow[]
  /** What became of an instrument that was lost. */
  told?: string
}

const begun = (): LiveTrace => ({
  id: crypto.randomUUID(),
  status: 'running',
  instrument: '',
  at: new Date().toISOString(),
  channels: [],
  heard: [],
  samples: [],
})

const GONE = t`the connection was lost`

/** Why a trace did not even begin: a stream does not say, the same address asked plainly does. */
async function refusalOf(address: string): Promise<string> {
  const asking = new AbortController()
  try {
    const answer = await fetch(address, {
      signal: asking.signal,
      headers: { 'Accept-Language': language() },
    })
    if (answer.ok) return GONE
    const problem = (await answer.json()) as { detail?: string; title?: string }
    return problem.detail ?? problem.title ?? GONE
  } catch {
    return GONE
  } finally {
    asking.abort()
  }
}

/** A trace as it comes from a server, or out of a file: begun, stopped, lost; what came of it stays. */
export function useLiveTrace(onEnd: (trace: LiveTrace) => void) {
  const [trace, setTrace] = useState<LiveTrace>()
  const running = useRef<{ close: () => void; trace: LiveTrace }>(undefined)
  const ended = useRef(onEnd)
  useEffect(() => {
    ended.current = onEnd
  }, [onEnd])

  const change = useCallback((update: Partial<LiveTrace>) => {
    const now = running.current
    if (!now) return
    now.trace = { ...now.trace, ...update }
    setTrace(now.trace)
    if (now.trace.status === 'running') return
    now.close()
    running.current = undefined
    ended.current(now.trace)
  }, [])

  // A page that is left lets go of the instrument.
  useEffect(() => () => running.current?.close(), [])

  const add = useCallback(
    (row: SampleRow) => change({ samples: [...(running.current?.trace.samples ?? []), row] }),
    [change],
  )

  function start(address: string) {
    running.current?.close()
    const source = new EventSource(inLanguage(address))
    running.current = { close: () => source.close(), trace: begun() }
    setTrace(running.current.trace)
    source.addEventListener('begin', (event) => change(JSON.parse(event.data) as LiveTrace))
    source.addEventListener('sample', (event) => add(JSON.parse(event.data) as SampleRow))
    source.addEventListener('lost', (event) =>
      change({ status: 'lost', told: JSON.parse(event.data) as string }),
    )
    source.addEventListener('end', () => change({ status: 'whole' }))
    // Without this the browser would begin again from the start by itself.
    source.onerror = () => {
      source.close()
      if (running.current?.trace.instrument) change({ status: 'lost', told: GONE })
      else void refusalOf(address).then((told) => change({ status: 'lost', told }))
    }
  }

  /** Draw a recorded trace as it once came, ten times as fast. */
  function play(instrument: string, channels: string[], rows: SampleRow[], stopped: string | null) {
    running.current?.close()
    let next = 0
    let timer = 0
    running.current = {
      close: () => window.clearTimeout(timer),
      trace: { ...begun(), instrument, channels },
    }
    setTrace(running.current.trace)
    const step = () => {
      const row = rows[next]
      if (!row) {
        change(stopped === null ? { status: 'whole' } : { status: 'lost', told: stopped })
        return
      }
      next += 1
      add(row)
      const wait = ((rows[next]?.[0] ?? row[0] ?? 0) - (row[0] ?? 0)) * 100
      timer = window.setTimeout(step, Math.min(wait, 500))
    }
    step()
  }

  const stop = useCallback(() => change({ status: 'stopped' }), [change])
  const clear = useCallback(() => {
    running.current?.close()
    running.current = undefined
    setTrace(undefined)
  }, [])
  return { trace, start, play, stop, clear }
}
