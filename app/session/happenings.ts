// What the keeper of the server had to start again since this page last asked: said once, in a sentence each.
import { api } from '~/stores/api'

interface Happening {
  at: string
  what: string
  said: string
}

export class Happenings {
  private last: string | null = null

  /** @returns what is new; nothing the first time, and nothing while the server is away */
  async look(): Promise<string[]> {
    const answer = await api<{ happened: Happening[] }>('/api/health').catch(() => null)
    if (!answer) return []
    const before = this.last
    this.last = answer.happened.at(-1)?.at ?? ''
    if (before === null) return []
    return answer.happened.filter(h => h.at > before).map(h => `The ${h.what} ${h.said}. What was stored is there.`)
  }
}
