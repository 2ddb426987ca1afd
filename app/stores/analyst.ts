// Questions that are answered by rendering a range: one at a time, with progress, and they can be stopped.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import type { RenderRange } from '@nullet/core/run/stream'
import { settings } from '@nullet/core/session/session'
import type { Answer, FromAnalyst, Task } from '~/audio/analystMessages'
import { shortTime } from '~/words/format'
import { useNotices } from './notices'
import { useSession } from './session'
import { useTransport } from './transport'

/** Seconds that are rendered when no range is marked. */
const USUAL_S = 30

export const useAnalyst = defineStore('analyst', () => {
  const store = useSession(),
    transport = useTransport(),
    notices = useNotices()
  const busy = shallowRef<Task['kind'] | null>(null)
  const progress = shallowRef(0)
  let worker: Worker | null = null
  let leave: (() => void) | null = null

  /** The marked range, else as much as is usual from where the position is. */
  const range = computed((): RenderRange => {
    const marked = transport.repeat
    if (marked) return { from: marked.from, frames: marked.to - marked.from }
    const frames = Math.max(1, Math.min(transport.length, USUAL_S * transport.rate))
    return { from: Math.max(0, Math.min(transport.position, transport.length - frames)), frames }
  })
  const rangeText = computed(
    () =>
      `${shortTime(range.value.from, transport.rate)} to ${shortTime(range.value.from + range.value.frames, transport.rate)}${transport.repeat ? ', the marked range' : ''}`
  )
  const heard = computed(() =>
    store.session
      ? (settings(store.session).heardChannel ??
        Object.values(store.session.channel).find(c => c.role === 'main')?.id ??
        null)
      : null
  )

  /** Kept from one question to the next: it holds the audio that it has read. */
  function thread(): Worker {
    return (worker ??= new Worker(new URL('../audio/analyst.worker.ts', import.meta.url), { type: 'module' }))
  }

  /** The answer; null when it was stopped or failed, which is said. */
  function ask<K extends Task['kind']>(task: Extract<Task, { kind: K }>): Promise<Extract<Answer, { kind: K }> | null> {
    stop()
    busy.value = task.kind
    progress.value = 0
    const mine = thread()
    return new Promise(done => {
      const end = (answer: Answer | null) => {
        leave = null
        busy.value = null
        done(answer as Extract<Answer, { kind: K }> | null)
      }
      leave = () => {
        mine.terminate()
        worker = null
        end(null)
      }
      mine.onmessage = ({ data }: MessageEvent<FromAnalyst>) => {
        if (data.kind === 'progress') progress.value = data.share
        else if (data.kind === 'done') end(data.answer)
        else {
          notices.wrong(new Error(`It could not be measured: ${data.message}`))
          end(null)
        }
      }
      mine.onerror = e => {
        notices.wrong(new Error(`It could not be measured: ${e.message}`))
        leave?.()
      }
      // Vue's wrappers cannot be sent; rows are plain data.
      mine.postMessage({ session: store.session, task })
    })
  }
  function stop(): void {
    leave?.()
  }
  // Another session has other audio.
  watch(
    () => store.id,
    () => {
      stop()
      worker?.terminate()
      worker = null
    }
  )

  return { busy, progress, range, rangeText, heard, ask, stop }
})
