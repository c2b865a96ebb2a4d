import { t } from '@lingui/core/macro'
import pieces from './pcmWorklet?worker&url'

const RATE_HZ = 16_000

/** Why no microphone can be had here; undefined where one may. */
export function microphoneFault(): string | undefined {
  if (!window.isSecureContext) {
    return t`a browser gives its microphone only to an address that it trusts: on the network, install the certificate first (Bench, Network)`
  }
  // Absent in old browsers, though their types promise it.
  const devices = navigator.mediaDevices as MediaDevices | undefined
  return devices?.getUserMedia === undefined || !('AudioWorkletNode' in window)
    ? t`this browser cannot hand on its microphone`
    : undefined
}

function refusalWords(error: unknown): string {
  const name = error instanceof DOMException ? error.name : ''
  if (name === 'NotAllowedError') {
    return t`the browser was not allowed to use the microphone: allow it at the address line`
  }
  if (name === 'NotFoundError') return t`no microphone is connected`
  if (name === 'NotReadableError') return t`another program is using the microphone`
  return t`the microphone gives no sound (${error instanceof Error ? error.message : String(error)})`
}

type Opened = { close: () => void; rateHz: number }

async function opened(
  audio: MediaTrackConstraints,
  { rateHz, channels }: { rateHz?: number; channels: (track: MediaTrackSettings) => number },
  onSound: (samples: ArrayBuffer, channels: number) => void,
): Promise<Opened> {
  let stream: MediaStream
  try {
    stream = await navigator.mediaDevices.getUserMedia({ audio })
  } catch (error) {
    throw new Error(refusalWords(error), { cause: error })
  }
  const context = new AudioContext(rateHz === undefined ? {} : { sampleRate: rateHz })
  try {
    await context.audioWorklet.addModule(pieces)
    const count = channels(stream.getAudioTracks()[0]?.getSettings() ?? {})
    const node = new AudioWorkletNode(context, 'pieces', {
      numberOfOutputs: 0,
      processorOptions: { channels: count },
    })
    node.port.onmessage = (event: MessageEvent<ArrayBuffer>) => onSound(event.data, count)
    context.createMediaStreamSource(stream).connect(node)
    await context.resume()
  } catch (error) {
    close()
    throw new Error(refusalWords(error), { cause: error })
  }
  function close() {
    for (const track of stream.getTracks()) track.stop()
    void context.close()
  }
  return { close, rateHz: context.sampleRate }
}

/**
 * Open the microphone and hand on speech: 16-bit samples, 16,000 a second, one channel.
 *
 * @throws Error that says why there is none.
 */
export async function openMicrophone(onSound: (samples: ArrayBuffer) => void) {
  return opened(
    // What is said back must not be heard again; noise is told from speech on the other side.
    { channelCount: 1, echoCancellation: true, noiseSuppression: false },
    { rateHz: RATE_HZ, channels: () => 1 },
    onSound,
  )
}

/**
 * Open the microphone and hand on its sound as it is, 16-bit samples with channel beside channel: whatever
 * a device does to make speech clearer would take away what is listened for.
 *
 * @throws Error that says why there is none.
 */
export async function openRecorder(onSound: (samples: ArrayBuffer, channels: number) => void) {
  return opened(
    {
      channelCount: { ideal: 2 },
      echoCancellation: false,
      noiseSuppression: false,
      autoGainControl: false,
    },
    { channels: (track) => Math.min(track.channelCount ?? 1, 2) },
    onSound,
  )
}
