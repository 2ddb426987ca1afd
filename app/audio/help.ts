// The other thread that helps with what is heard: with one machine at a time, where that is laid out for two.
import type { Machine } from '@nullet/core/run/machine'
import { letGo, takeOn, type Team } from '@nullet/core/run/team'

export class Help {
  private line: MessagePort | null = null
  private team: Team | null = null

  /** @param line to the thread; null: this machine has one core */
  over(line: MessagePort | null): void {
    this.line = line
  }

  /** Helps with this machine from now on, and no longer with the one before. */
  with(machine: Machine | null): void {
    const team = machine?.forAnother ?? null
    if (!this.line || team === this.team) return
    if (this.team) letGo(this.team)
    this.team = team
    if (!team) return
    takeOn(team)
    this.line.postMessage(team)
  }
}
