// Stores on a stage without a browser: the real session store and link over a server in memory, a player that remembers
// what it was told, questions that are answered by the test.
import { createPinia, setActivePinia } from 'pinia'
import { vi } from 'vitest'
import { nextTick } from 'vue'
import type { Session } from '@nullet/core/session/session'
import { failureOf, MemoryServer, MemoryShelf } from '~/session/testing'
import type { Told } from '~/session/events'

/** What the player was told, in order. */
export interface Heard {
  calls: [name: string, ...args: unknown[]][]
  events: {
    ended(): void
    faults(ids: string[]): void
    error(message: string): void
    plan(p: { latency: number; readAhead: number; cores: number; heavy: { channel: string; share: number }[] }): void
  } | null
  meters: Map<string, number>
  at: number | null
  fails: Error | null
}

export interface Stage {
  server: MemoryServer
  heard: Heard
  /** What the server tells all pages. */
  tell(told: Told): void
  /** Animation frames that wait are run. */
  frame(): void
  /** Requests beside those of the session: answered by address. */
  answers: Map<string, (body: unknown) => unknown>
  requests: [path: string, body: unknown][]
  went: unknown[]
}

export async function openStage(session: Session, id = 's'): Promise<Stage> {
  vi.resetModules()
  const server = new MemoryServer(session),
    another = new MemoryServer(structuredClone(session), 'era-of-another'),
    frames: (() => void)[] = [],
    heard: Heard = { calls: [], events: null, meters: new Map(), at: null, fails: null }
  const stage: Stage = {
    server,
    heard,
    tell: () => {},
    frame: () => frames.splice(0).forEach(f => f()),
    answers: new Map(),
    requests: [],
    went: []
  }
  vi.stubGlobal('localStorage', new MemoryShelf())
  vi.stubGlobal('requestAnimationFrame', (f: () => void) => frames.push(f))
  vi.stubGlobal('cancelAnimationFrame', () => {
    frames.length = 0
  })
  vi.doMock('~/session/browser', () => ({
    httpWire: (which: string) => (which === id ? server : another),
    failureOf,
    holdPage() {},
    ownHand: () => 'hand',
    pageIsOpen: async () => false
  }))
  vi.doMock('~/session/events', () => ({
    hearServer: (hear: (told: Told) => void) => {
      stage.tell = hear
      return () => {}
    }
  }))
  vi.doMock('~/stores/goTo', () => ({
    goTo: async (to: unknown) => {
      stage.went.push(to)
    }
  }))
  vi.doMock('~/stores/api', () => ({
    Failed: class Failed extends Error {},
    api: async (path: string, { body }: { body?: unknown } = {}) => {
      stage.requests.push([path, body])
      const answer = [...stage.answers].find(([start]) => path.startsWith(start))
      if (!answer) throw new Error(`nobody answers ${path}`)
      return answer[1](body)
    }
  }))
  vi.doMock('~/audio/player', () => ({
    Player: class {
      constructor(events: Heard['events']) {
        heard.events = events
        return new Proxy(this, {
          get: (_, name: string) => {
            if (name === 'then') return undefined
            if (name === 'underruns') return 0
            if (name === 'position' || name === 'heardFrame') return () => heard.at
            if (name === 'meters')
              return (into: Map<string, number>) => {
                into.clear()
                heard.meters.forEach((v, k) => into.set(k, v))
                return true
              }
            return (...args: unknown[]) => {
              heard.calls.push([name, ...args])
              if (name === 'play' && heard.fails) throw heard.fails
            }
          }
        })
      }
    }
  }))
  setActivePinia(createPinia())
  const { useSession } = await import('./session')
  await useSession().open(id)
  await nextTick()
  return stage
}

/** Answers the questions that a gesture asks, in order. */
export async function answering<T>(act: Promise<T>, ...answers: (string | null)[]): Promise<T> {
  const { useAsk } = await import('./ask')
  const ask = useAsk()
  for (const answer of answers) {
    for (let i = 0; i < 50 && !ask.question; i++) await Promise.resolve()
    ask.close(answer)
    await nextTick()
  }
  return act
}
