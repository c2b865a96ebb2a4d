/** Runs in the audio thread: gathers the microphone's samples into pieces, channel beside channel. */

// The scope of an AudioWorklet has no types of its own in the page's library.
declare const registerProcessor: (name: string, processor: unknown) => void
declare class AudioWorkletProcessor {
  readonly port: MessagePort
  constructor(options?: unknown)
}

const PIECE_FRAMES = 1600

class Pieces extends AudioWorkletProcessor {
  private readonly channels: number
  private piece: Int16Array
  private filled = 0

  constructor(options: { processorOptions?: { channels?: number } }) {
    super(options)
    this.channels = options.processorOptions?.channels ?? 1
    this.piece = new Int16Array(PIECE_FRAMES * this.channels)
  }

  process(inputs: Float32Array[][]): boolean {
    const input = inputs[0] ?? []
    const frames = input[0]?.length ?? 0
    for (let frame = 0; frame < frames; frame++) {
      for (let channel = 0; channel < this.channels; channel++) {
        // A microphone with fewer channels is heard on all of them.
        const value = (input[channel] ?? input[0])?.[frame] ?? 0
        this.piece[this.filled++] = Math.max(-1, Math.min(1, value)) * 32767
      }
      if (this.filled === this.piece.length) {
        this.port.postMessage(this.piece.buffer, [this.piece.buffer])
        this.piece = new Int16Array(PIECE_FRAMES * this.channels)
        this.filled = 0
      }
    }
    return true
  }
}

registerProcessor('pieces', Pieces)
