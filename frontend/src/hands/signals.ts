import { handSettings } from './handSettings'

/** What is told by sound and by vibration. */
export type Signal = 'in-spec' | 'out-of-spec' | 'not-understood'

type Shape = {
  /** One tone after the other, Hz: apart by rising, falling or staying, for whom pitch alone tells little. */
  tonesHz: number[]
  /** On, off, on ..., ms. */
  vibrationMs: number[]
}

export const SIGNALS: Record<Signal, Shape> = {
  'in-spec': { tonesHz: [660, 990], vibrationMs: [80] },
  'out-of-spec': { tonesHz: [880, 440], vibrationMs: [250, 100, 250] },
  'not-understood': { tonesHz: [220, 220], vibrationMs: [60, 60, 60, 60, 60] },
}

const TONE_S = 0.14
const RISE_S = 0.015
const LOUDNESS = 0.25

let sound: AudioContext | undefined

function play(tonesHz: number[]) {
  // Made at the first sound, which follows a key or a touch: before one the browser allows none.
  sound ??= new AudioContext()
  void sound.resume()
  const begin = sound.currentTime + 0.02
  tonesHz.forEach((hz, at) => {
    const tone = new OscillatorNode(sound!, { frequency: hz })
    const loudness = new GainNode(sound!, { gain: 0 })
    const from = begin + at * (TONE_S + 0.03)
    // Faded in and out: a tone cut off clicks, and a click is what is listened for here.
    loudness.gain.setValueAtTime(0, from)
    loudness.gain.linearRampToValueAtTime(LOUDNESS, from + RISE_S)
    loudness.gain.setValueAtTime(LOUDNESS, from + TONE_S - RISE_S)
    loudness.gain.linearRampToValueAtTime(0, from + TONE_S)
    tone.connect(loudness).connect(sound!.destination)
    tone.start(from)
    tone.stop(from + TONE_S)
  })
}

/** One tone: understood, where no voice says so. */
export function acknowledge() {
  if (handSettings().tones && 'AudioContext' in window) play([1320])
}

/** Tell something to whoever does not look, as far as the settings and the device allow. */
export function signal(what: Signal) {
  const { tones, vibration } = handSettings()
  const { tonesHz, vibrationMs } = SIGNALS[what]
  if (tones && 'AudioContext' in window) play(tonesHz)
  if (vibration && canVibrate()) navigator.vibrate(vibrationMs)
}

export function canVibrate(): boolean {
  return typeof navigator.vibrate === 'function'
}
