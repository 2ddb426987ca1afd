// The other thread that helps with what is heard: with one machine at a time, where that is laid out for two.
import type { Machine } from '@nullet/core/run/machine'
import { letGo, takeOn, type Team } from '@nullet/core/run/team'

export class Help {
  private line: MessagePort | null = null
  private team: Team | null = null

  /** @param line to the thread; null: there is none, or none any more */
  over(line: MessagePort | null): void {
    if (this.team) letGo(this.team)
    this.team = null
    this.line = line
  }

  get cores(): 1 | 2 {
    return this.team ? 2 : 1
  }

  /**
   * Helps with this machine, where it is laid out for two, and no longer with the one before.
   * @returns do more or fewer threads work from now on?
   */
  with({ forAnother: team }: Machine): boolean {
    const before = this.team
    if (!this.line || team === before) return false
    if (before) letGo(before)
    this.team = team
    if (team) {
      takeOn(team)
      this.line.postMessage(team)
    }
    return !team !== !before
  }
}
