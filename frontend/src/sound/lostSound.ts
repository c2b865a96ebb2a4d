/** A run of zeros that long (one block of the browser's audio) is no sound of a microphone. */
const BLOCK_FRAMES = 128
const COMPARED_S = 1
/** Clocks of a sound card and of the machine part by less than that in two minutes. */
const LEAST_LAG_S = 0.05

type Arrival = { soundS: number; lagS: number }

/**
 * How much sound is missing from a recording.
 *
 * A device that is busy leaves blocks out: the browser then puts zeros in their place, or its sound falls
 * behind the clock.
 */
export class LostSound {
  private frames = 0
  private zeros = 0
  private lostFrames = 0
  private heard = false
  private readonly arrivals: Arrival[] = []

  private readonly channels: number
  private readonly rateHz: number

  constructor(channels: number, rateHz: number) {
    this.channels = channels
    this.rateHz = rateHz
  }

  /** The next piece, and when it came, in seconds of the clock. */
  add(samples: ArrayBuffer, atS: number) {
    const values = new Int16Array(samples)
    for (let at = 0; at < values.length; at += this.channels) {
      let silent = true
      for (let channel = 0; channel < this.channels; channel++) {
        silent &&= values[at + channel] === 0
      }
      if (silent) {
        this.zeros += 1
        continue
      }
      // Before the first sound a microphone may only be waking up.
      this.lostFrames += this.gapFrames
      this.zeros = 0
      this.heard = true
    }
    this.frames += values.length / this.channels
    const soundS = this.frames / this.rateHz
    this.arrivals.push({ soundS, lagS: atS - soundS })
  }

  /** The zeros since the last sound, where they are too many for one. */
  private get gapFrames(): number {
    return this.heard && this.zeros >= BLOCK_FRAMES ? this.zeros : 0
  }

  /** So far, s. */
  get seconds(): number {
    const endS = this.frames / this.rateHz
    // A piece may come late, and none early: the least lag of several is that of the sound itself.
    const least = (some: Arrival[]) => Math.min(...some.map((one) => one.lagS))
    const first = this.arrivals.filter((one) => one.soundS <= COMPARED_S)
    const last = this.arrivals.filter((one) => one.soundS > endS - COMPARED_S)
    const lagS = first.length > 0 && last.length > 0 ? least(last) - least(first) : 0
    // A microphone that was pulled out is silent to the end.
    return (this.lostFrames + this.gapFrames) / this.rateHz + (lagS >= LEAST_LAG_S ? lagS : 0)
  }
}
