// How far a long command is, on standard error: in place on a terminal, not at all elsewhere. Results go to standard
// output.

const STEP_MS = 200

export class Progress {
  private last = 0
  private open = false
  private readonly live = process.stderr.isTTY

  constructor(private readonly quiet: boolean) {}

  /** @param share 0 to 1 */
  at(what: string, share: number): void {
    if (this.quiet || !this.live || Date.now() - this.last < STEP_MS) return
    this.last = Date.now()
    this.open = true
    process.stderr.write(`\r\x1b[K${what} ${Math.floor(share * 100)} %`)
  }

  /** A line of its own, also where nobody watches. */
  say(line: string): void {
    this.end()
    if (!this.quiet) process.stderr.write(`nullet: ${line}\n`)
  }

  end(): void {
    if (this.open) process.stderr.write('\r\x1b[K')
    this.open = false
  }
}
