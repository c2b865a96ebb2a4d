import { useEffect, useRef, useState } from 'react'
import { microphoneFault, openRecorder } from '@/hands/microphone'
import { LostSound } from './lostSound'
import { loudest, wavOf } from './wav'

const LONGEST_S = 120

/** `lostS`: how much of the sound is missing. */
export type Recorded = { file: Blob; channels: number; seconds: number; lostS: number }
export type RecorderState =
  | { at: 'idle'; fault?: string }
  | { at: 'opening' }
  /** `db`: of the last tenth of a second; `clipped`: any so far. */
  | { at: 'recording'; seconds: number; db: number; clipped: boolean }

/** The device's microphone: started, watched and stopped; what it heard is handed on as a WAV file. */
export function useRecorder(onRecorded: (recorded: Recorded) => void) {
  const [state, setState] = useState<RecorderState>({ at: 'idle' })
  const stop = useRef<(() => void) | undefined>(undefined)
  const wanted = useRef(false)

  // Whoever leaves the page does not leave the microphone open.
  useEffect(
    () => () => {
      wanted.current = false
      stop.current?.()
    },
    [],
  )

  async function start() {
    const missing = microphoneFault()
    if (missing !== undefined) {
      setState({ at: 'idle', fault: missing })
      return
    }
    wanted.current = true
    setState({ at: 'opening' })
    const pieces: ArrayBuffer[] = []
    let frames = 0
    let channels = 1
    let clipped = false
    let rateHz = 0
    let lost: LostSound | undefined
    let ended = false
    try {
      const opened = await openRecorder((samples, count) => {
        // On a busy device some sound is still on its way when it is stopped.
        if (ended) return
        const atS = performance.now() / 1000
        pieces.push(samples)
        channels = count
        frames += samples.byteLength / 2 / count
        const level = loudest(samples)
        clipped ||= level.clipped
        const seconds = rateHz === 0 ? 0 : frames / rateHz
        if (rateHz !== 0) {
          lost ??= new LostSound(count, rateHz)
          lost.add(samples, atS)
        }
        setState({ at: 'recording', seconds, db: level.db, clipped })
        if (seconds >= LONGEST_S) stop.current?.()
      })
      rateHz = opened.rateHz
      stop.current = () => {
        stop.current = undefined
        ended = true
        opened.close()
        setState({ at: 'idle' })
        if (wanted.current && frames > 0) {
          const file = wavOf(pieces, channels, rateHz)
          const lostS = lost?.seconds ?? 0
          onRecorded({ file, channels, seconds: frames / rateHz, lostS })
        }
        wanted.current = false
      }
      if (!wanted.current) stop.current()
    } catch (error) {
      setState({ at: 'idle', fault: error instanceof Error ? error.message : String(error) })
    }
  }

  return { state, start: () => void start(), stop: () => stop.current?.() }
}
