// Long work on the server: waiting, running, how it ended. Survives a reload because the server keeps it.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { api, type Problem } from './api'
import { newId } from './ids'
import { useNotices } from './notices'
import { useSession } from './session'

export interface Job {
  id: string
  kind: 'print' | 'ping' | 'runAgain' | 'offsite'
  label: string
  args: Record<string, unknown>
  state: 'waiting' | 'running' | 'stopping' | 'done' | 'failed' | 'stopped'
  progress: number
  step: string
  result: unknown
  error: Problem | null
  tries: number
  madeAt: string
}

export const isOpen = (j: Job) => j.state === 'waiting' || j.state === 'running' || j.state === 'stopping'

export const useJobs = defineStore('jobs', () => {
  const store = useSession(),
    notices = useNotices()
  const list = shallowRef<Job[]>([])
  const open = computed(() => list.value.filter(isOpen))
  const waiters = new Map<string, (job: Job) => void>()

  function put(job: Job): void {
    const known = list.value.find(j => j.id === job.id)
    list.value = known ? list.value.map(j => (j.id === job.id ? job : j)) : [job, ...list.value]
    if (isOpen(job)) return
    if (known && isOpen(known) && job.state === 'failed')
      notices.wrong(Object.assign(new Error(`“${job.label}”: ${job.error?.message ?? 'it failed'}`)))
    waiters.get(job.id)?.(job)
    waiters.delete(job.id)
  }

  async function refresh(): Promise<void> {
    if (!store.id) return
    list.value = await api<Job[]>(`/api/sessions/${encodeURIComponent(store.id)}/jobs`).catch(() => list.value)
    for (const job of list.value)
      if (!isOpen(job)) {
        waiters.get(job.id)?.(job)
        waiters.delete(job.id)
      }
  }

  store.onJob(id => {
    if (id) void api<Job>(`/api/jobs/${id}`).then(put, () => {})
    else void refresh()
  })
  watch(
    () => store.session === null,
    empty => {
      if (empty) list.value = []
      else void refresh()
    },
    { immediate: true }
  )

  async function start(kind: Job['kind'], label: string, args: unknown): Promise<string | null> {
    const id = newId('j')
    // It works on the session as it is here.
    await store.stored()
    try {
      put(
        await api<Job>(`/api/sessions/${encodeURIComponent(store.id)}/jobs`, {
          body: { id, kind, label, args, client: store.client }
        })
      )
      return id
    } catch (error) {
      notices.wrong(error)
      return null
    }
  }

  /** Resolves when the job has ended, however it did. */
  const ended = (id: string) =>
    new Promise<Job>(done => {
      const known = list.value.find(j => j.id === id)
      if (known && !isOpen(known)) done(known)
      else waiters.set(id, done)
    })

  const stop = (id: string) => api<Job>(`/api/jobs/${id}/stop`, { method: 'POST' }).then(put, notices.wrong)

  /** One that failed or was stopped, once more from the beginning. */
  const again = (id: string) => api<Job>(`/api/jobs/${id}/again`, { method: 'POST' }).then(put, notices.wrong)

  return { list, open, start, ended, stop, again, refresh }
})
