const HEADER = 44

/** A WAV file of 16-bit samples, channel beside channel (RIFF, IBM and Microsoft 1991). */
export function wavOf(pieces: ArrayBuffer[], channels: number, rateHz: number): Blob {
  const size = pieces.reduce((sum, piece) => sum + piece.byteLength, 0)
  const head = new DataView(new ArrayBuffer(HEADER))
  const frame = channels * 2
  text(head, 0, 'RIFF')
  head.setUint32(4, HEADER - 8 + size, true)
  text(head, 8, 'WAVEfmt ')
  head.setUint32(16, 16, true)
  head.setUint16(20, 1, true)
  head.setUint16(22, channels, true)
  head.setUint32(24, rateHz, true)
  head.setUint32(28, rateHz * frame, true)
  head.setUint16(32, frame, true)
  head.setUint16(34, 16, true)
  text(head, 36, 'data')
  head.setUint32(40, size, true)
  return new Blob([head.buffer, ...pieces], { type: 'audio/wav' })
}

function text(view: DataView, at: number, word: string) {
  for (let index = 0; index < word.length; index++)
    view.setUint8(at + index, word.charCodeAt(index))
}

const FULL = 32767
const CLIPPED_FROM = 0.995 * FULL

/** The loudest sample of a piece, dB below full scale, and whether it was cut off there. */
export function loudest(samples: ArrayBuffer): { db: number; clipped: boolean } {
  let most = 1
  for (const value of new Int16Array(samples)) most = Math.max(most, Math.abs(value))
  return { db: 20 * Math.log10(most / FULL), clipped: most >= CLIPPED_FROM }
}
