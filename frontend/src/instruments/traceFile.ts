import type { SampleRow } from './useLiveTrace'

/** A trace as the CSV that can be replayed, as an address to save it from. */
export function traceFile(channels: { id: string }[], samples: SampleRow[]): string {
  const lines = [['at_s', ...channels.map((one) => one.id)], ...samples]
  const text = lines.map((cells) => cells.map((cell) => cell ?? '').join(',')).join('\r\n')
  return `data:text/csv;charset=utf-8,${encodeURIComponent(`${text}\r\n`)}`
}
