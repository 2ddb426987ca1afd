// What the keeper of the server had to start again since this page last asked: said once, in a sentence each.
import { api } from '~/stores/api'

interface Happening {
  at: string
  what: string
  said: string
}

const AGAIN_MS = 1000

export class Happenings {
  private last: string | null = null
  private before: Promise<unknown> = Promise.resolve()

  /** @param pause between two questions while the server or its database is away; milliseconds */
  constructor(private readonly pause = (ms: number) => new Promise<void>(done => setTimeout(done, ms))) {}

  /**
   * Asks until there is an answer, one question after the other: what ended is told once everything is back.
   * @returns what is new since the last answer; nothing the first time
   */
  look(): Promise<string[]> {
    const answered = this.before.then(() => this.ask())
    this.before = answered
    return answered
  }

  private async ask(): Promise<string[]> {
    for (;;) {
      const answer = await api<{ happened: Happening[] }>('/api/health').catch(() => null)
      if (answer) return this.newIn(answer.happened)
      await this.pause(AGAIN_MS)
    }
  }

  private newIn(happened: readonly Happening[]): string[] {
    const before = this.last
    this.last = happened.at(-1)?.at ?? ''
    if (before === null) return []
    return happened.filter(h => h.at > before).map(h => `The ${h.what} ${h.said}. What was stored is there.`)
  }
}
