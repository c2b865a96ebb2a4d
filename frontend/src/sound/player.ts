import { t } from '@lingui/core/macro'
import { useEffect, useRef, useState } from 'react'

const SLOW = 0.25
const LOOPS = 6

type Sound = { context: AudioContext; buffer: AudioBuffer }

async function loaded(address: string, channel: number): Promise<Sound> {
  const answer = await fetch(address)
  if (!answer.ok) throw new Error(t`the sound is not there any more`)
  const context = new AudioContext()
  const whole = await context.decodeAudioData(await answer.arrayBuffer())
  // The ignition clip is no sound to be listened to.
  const buffer = context.createBuffer(1, whole.length, whole.sampleRate)
  buffer.copyToChannel(whole.getChannelData(Math.min(channel, whole.numberOfChannels) - 1), 0)
  return { context, buffer }
}

export type Player = {
  playing: boolean
  fault: string | undefined
  /** From a moment on, until it is stopped; slowed to a quarter if wanted. */
  from: (atS: number, slow: boolean) => void
  /** A part over and over, slowed to a quarter. */
  slowly: (fromS: number, toS: number) => void
  stop: () => void
}

/** Plays parts of a recording, as fast as they were or slowed down, which lowers them as a tape does. */
export function usePlayer(address: string | undefined, channel: number): Player {
  const sound = useRef<Promise<Sound> | undefined>(undefined)
  const source = useRef<AudioBufferSourceNode | undefined>(undefined)
  const asked = useRef(0)
  const [playing, setPlaying] = useState(false)
  const [fault, setFault] = useState<string>()

  useEffect(
    () => () => {
      asked.current++
      void sound.current?.then(({ context }) => context.close()).catch(() => undefined)
      sound.current = undefined
    },
    [address, channel],
  )

  function stop() {
    asked.current++
    source.current?.stop()
    source.current = undefined
    setPlaying(false)
  }

  async function play(begin: (node: AudioBufferSourceNode) => void) {
    if (address === undefined) return
    stop()
    const mine = asked.current
    setPlaying(true)
    setFault(undefined)
    try {
      sound.current ??= loaded(address, channel)
      const { context, buffer } = await sound.current
      await context.resume()
      // Let go of again before the sound was there.
      if (mine !== asked.current) return
      const node = new AudioBufferSourceNode(context, { buffer })
      node.connect(context.destination)
      node.onended = () => mine === asked.current && stop()
      source.current = node
      begin(node)
    } catch (error) {
      sound.current = undefined
      setPlaying(false)
      setFault(error instanceof Error ? error.message : String(error))
    }
  }

  return {
    playing,
    fault,
    stop,
    from: (atS, slow) =>
      void play((node) => {
        node.playbackRate.value = slow ? SLOW : 1
        node.start(0, atS)
      }),
    slowly: (fromS, toS) =>
      void play((node) => {
        node.playbackRate.value = SLOW
        node.loop = true
        node.loopStart = fromS
        node.loopEnd = toS
        node.start(0, fromS)
        node.stop(node.context.currentTime + ((toS - fromS) * LOOPS) / SLOW)
      }),
  }
}
