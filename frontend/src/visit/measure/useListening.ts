import { t } from '@lingui/core/macro'
import { useEffect, useRef, useState } from 'react'
import { api, unwrap, type EngineDetail, type Felt, type Visit } from '@/api/client'
import { listeningAddress } from '@/api/addresses'
import { ANSWER_WORDS } from '@/blades/answers'
import { usePreferences } from '@/design/preferences'
import { handSettings } from '@/hands/handSettings'
import { hear, type Command, type Hearing } from '@/hands/hearing'
import { microphoneFault } from '@/hands/microphone'
import { acknowledge, signal } from '@/hands/signals'
import { beSilent, hasVoice, speak } from '@/hands/speech'
import { bladeName, nextWords, valveName } from './spokenWords'
import type { ValveWork } from './useValveWork'

type SpokenAnswer = Exclude<Felt, 'go'>
/** An answer that the readings make very unlikely: kept back until it is said again. */
type Asked = { felt: SpokenAnswer; place: string; blades: string; words: string }

export type Listening = ReturnType<typeof useListening>

function wordsOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error)
}

/** Whether an answer with the blades in the hand hardly goes with what was read before. */
async function isUnlikely(
  engineId: string,
  visitId: string,
  { valve, phase, hand }: ValveWork,
  felt: SpokenAnswer,
): Promise<boolean> {
  try {
    const expected = await unwrap(
      api.GET('/api/engines/{engine_id}/visits/{visit_id}/valves/{valve}/expected-answers', {
        params: {
          path: { engine_id: engineId, visit_id: visitId, valve },
          query: { phase, blades_mm: hand },
        },
      }),
    )
    return expected.unlikely.includes(felt)
  } catch {
    // Nobody can say so just now: the answer is stored, as if it had been pressed.
    return false
  }
}

/** Hears what is said at the engine, does it, and says what comes next. */
export function useListening(engine: EngineDetail['engine'], visit: Visit, work: ValveWork) {
  const { unit } = usePreferences()
  const [status, setStatus] = useState<'off' | 'starting' | 'on'>('off')
  const [fault, setFault] = useState<string>()
  const [understood, setUnderstood] = useState('')
  const [asked, setAsked] = useState<Asked>()
  const [said, setSaid] = useState('')
  const hearing = useRef<Hearing>(undefined)
  const running = useRef(0)

  const named = engine.valves.find((one) => one.id === work.valve)
  const name = named ? valveName(named, engine.valves) : work.valve
  const prompt = work.waiting ? '' : nextWords({ ...work, unit })
  // Another valve is named; the same one is not, time and again.
  const sentence = prompt && `${work.place}|${name}|${prompt}`
  const spokenPlace = useRef('')

  function tell(words: string) {
    setSaid(words)
    if (hasVoice()) speak(words, () => hearing.current?.prompted())
    else hearing.current?.prompted()
  }
  const latest = useRef({ work, tell, name, prompt, asked })
  useEffect(() => {
    latest.current = { work, tell, name, prompt, asked }
  })

  useEffect(() => {
    if (status !== 'on' || !sentence) return
    const now = latest.current
    const before = spokenPlace.current === now.work.place ? '' : `${now.name}: `
    spokenPlace.current = now.work.place
    now.tell(`${before}${now.prompt}.`)
  }, [status, sentence])

  function stop(why?: string) {
    running.current += 1
    hearing.current?.close()
    hearing.current = undefined
    beSilent()
    setStatus('off')
    setAsked(undefined)
    setUnderstood('')
    setFault(why)
  }
  // Whoever leaves the page is no longer listened to.
  useEffect(
    () => () => {
      running.current += 1
      hearing.current?.close()
      beSilent()
    },
    [],
  )

  async function start() {
    const run = ++running.current
    setFault(undefined)
    setStatus('starting')
    spokenPlace.current = ''
    try {
      const missing = microphoneFault() ?? (await unwrap(api.GET('/api/listening'))).missing
      if (missing) throw new Error(missing)
      const opened = await hear(
        new URL(listeningAddress(engine.id, visit.id, handSettings().prefixAlways), location.href)
          .href,
        {
          ready: () => setStatus('on'),
          command: (command) => void obey(command),
          notUnderstood: () => {
            setUnderstood('')
            setSaid(t`Not understood. Say it again.`)
            signal('not-understood')
          },
          late: () =>
            setSaid(t`The machine is too slow just now: wait a moment, then say it again.`),
          ended: (why) => stop(why),
        },
      )
      // Stopped, or gone from the page, before the microphone was allowed.
      if (running.current !== run) opened.close()
      else hearing.current = opened
    } catch (error) {
      if (running.current === run) stop(wordsOf(error))
    }
  }

  async function answer(felt: SpokenAnswer) {
    const now = latest.current
    const blades = now.work.hand
    const again = now.asked
    setAsked(undefined)
    const confirmed =
      again?.felt === felt && again.place === now.work.place && again.blades === blades.join()
    if (!confirmed && (await isUnlikely(engine.id, visit.id, now.work, felt))) {
      const words = t`${bladeName(blades, unit)} ${ANSWER_WORDS[felt]}: very unlikely by the answers so far. Say it again to store it.`
      setAsked({ felt, place: now.work.place, blades: blades.join(), words })
      latest.current.tell(words)
      return
    }
    now.work.answer(felt)
    if (!hasVoice()) acknowledge()
  }

  async function obey(command: Command) {
    const { work: at, prompt: comes, name: called } = latest.current
    beSilent()
    setUnderstood(command.text)
    if (command.name === 'no-go' || command.name === 'drag' || command.name === 'free') {
      return answer(command.name)
    }
    setAsked(undefined)
    if (!hasVoice()) acknowledge()
    switch (command.name) {
      case 'next':
        return at.goOn()
      case 'undo':
        if (at.tries.length === 0) tell(t`There is nothing to undo at this valve.`)
        else at.takeBack()
        return
      case 'repeat':
        return tell(`${called}: ${comes}.`)
      case 'skip':
        return at.skip.mutate(
          { valve: at.valve, phase: at.phase, reason: t`skipped by voice, no reason given` },
          { onSuccess: at.goOn },
        )
      case 'blade': {
        if (command.blade_mm !== null) at.take({ type: 'advised', bladesMm: [command.blade_mm] })
        return
      }
      case 'stop':
        return stop()
    }
  }

  return {
    status,
    fault,
    /** The last command, as it was said. */
    understood,
    /** What the product said last. */
    said: asked?.words ?? said,
    asked: asked !== undefined,
    toggle: () => (status === 'off' ? void start() : stop()),
    clearFault: () => setFault(undefined),
    /** Keep or drop the answer that was asked back, by hand. */
    confirm: () => asked && void answer(asked.felt),
    drop: () => setAsked(undefined),
  }
}
