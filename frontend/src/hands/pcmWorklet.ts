/** Runs in the audio thread: gathers the microphone's samples into pieces of a tenth of a second. */

// The scope of an AudioWorklet has no types of its own in the page's library.
declare const registerProcessor: (name: string, processor: unknown) => void
declare class AudioWorkletProcessor {
  readonly port: MessagePort
}

const PIECE = 1600

class Pieces extends AudioWorkletProcessor {
  private piece = new Int16Array(PIECE)
  private filled = 0

  process(inputs: Float32Array[][]): boolean {
    for (const value of inputs[0]?.[0] ?? []) {
      this.piece[this.filled++] = Math.max(-1, Math.min(1, value)) * 32767
      if (this.filled === PIECE) {
        this.port.postMessage(this.piece.buffer, [this.piece.buffer])
        this.piece = new Int16Array(PIECE)
        this.filled = 0
      }
    }
    return true
  }
}

registerProcessor('pieces', Pieces)
