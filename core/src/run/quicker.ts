// Together with another thread, or alone where that is quicker: a second core that others need costs more than it
// gives, since what it has begun is waited for. Whoever computes, the samples are the same.

export type Way = 'together' | 'alone'

/** Blocks together between two looks, and alone for the time that they are compared with. */
export const LOOK = 64,
  SAMPLE = 8
/** Looks after which that time is taken again. */
export const SAMPLE_EVERY = 16
/** Blocks alone after two looks at which it was slower together; each time twice as many until it is not. */
export const PAUSE = 256,
  LONGEST_PAUSE = 4096
/** Times the time alone: somewhat more may be chance. */
const SLOWER = 1.25

export class Quicker {
  private way: Way = 'together'
  private left = LOOK
  private blocks = 0
  private spent = 0
  private looks = 0
  /** Looks in a row at which it was slower. */
  private slow = 0
  private pause = PAUSE
  /** Milliseconds a block. */
  private alone = NaN

  /** @param clock milliseconds */
  constructor(private readonly clock: () => number) {}

  /** Does a block. */
  block(ways: Readonly<Record<Way, () => void>>): void {
    const began = this.clock()
    ways[this.way]()
    this.spent += this.clock() - began
    this.blocks++
    if (--this.left) return
    const took = this.spent / this.blocks
    this.blocks = this.spent = 0
    if (this.way === 'alone') {
      this.alone = took
      this.go('together', LOOK)
    } else this.look(took)
  }

  private look(together: number): void {
    if (together > SLOWER * this.alone) this.slow++
    else {
      this.slow = 0
      this.pause = PAUSE
    }
    if (this.slow > 1) {
      this.go('alone', this.pause)
      this.pause = Math.min(LONGEST_PAUSE, 2 * this.pause)
      // Once is enough after it.
      this.slow = 1
    } else if (this.looks++ % SAMPLE_EVERY === 0) this.go('alone', SAMPLE)
    else this.go('together', LOOK)
  }

  private go(way: Way, blocks: number): void {
    this.way = way
    this.left = blocks
  }
}
