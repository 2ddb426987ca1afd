// Files on their way in: one after the other, each with its progress, its cancel and its reason when it fails.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { sentences } from '~/components/format'
import type { Problem } from './api'
import { newId, orderAt } from './ids'
import { useNotes } from './notes'
import { useNotices } from './notices'
import { useSession } from './session'

export interface Incoming { id: string, file: File, state: 'waiting' | 'coming' | 'done' | 'failed' | 'stopped', share: number, message: string, /** Too many legs for one track: it can come as mono tracks. */ canSplit: boolean }

export const useImports = defineStore('imports', () => {
  const store = useSession(), notices = useNotices()
  const list = shallowRef<Incoming[]>([])
  let running = false
  let current: XMLHttpRequest | null = null

  /** Bringing a file in is a gesture of this page, which the server carries out. */
  const by = () => ({ gesture: store.nextServerGesture(), client: store.client })

  const change = (id: string, fields: Partial<Incoming>) => { list.value = list.value.map(i => i.id === id ? { ...i, ...fields } : i) }

  function add(files: Iterable<File>): void {
    const all = [...files], isMidi = (f: File) => /\.midi?$/i.test(f.name)
    all.filter(isMidi).forEach(f => void useNotes().bringIn(f))
    list.value = [...list.value.filter(i => i.state !== 'done'), ...all.filter(f => !isMidi(f)).map(file => ({ id: newId('t'), file, state: 'waiting' as const, share: 0, message: '', canSplit: false }))]
    void run(false)
  }

  async function run(split: boolean): Promise<void> {
    if (running) return
    running = true
    let made = 0
    for (let next = list.value.find(i => i.state === 'waiting'); next; next = list.value.find(i => i.state === 'waiting')) {
      if (await one(next, split)) made++
      split = false
    }
    running = false
    if (made) notices.tell(made === 1 ? 'One file became a track.' : `${made} files became tracks.`)
    list.value = list.value.filter(i => i.state === 'failed' || i.state === 'waiting')
  }

  /** A file as the impulse response of a slot. */
  async function bringResponse(file: File, slot: string): Promise<void> {
    const query = new URLSearchParams({ id: newId('r'), file: file.name.slice(0, 280), split: '0', response: slot, ...by() })
    try {
      const answer = await fetch(`/api/sessions/${encodeURIComponent(store.id)}/tracks?${query}`, { method: 'POST', body: file })
      const said = await answer.json() as { notes?: string[] } & Partial<Problem>
      if (!answer.ok) throw new Error(sentences(said.message ?? 'it failed', said.kept))
      await store.catchUp()
      notices.tell(`“${file.name}” is the impulse response now.${said.notes?.length ? ` ${said.notes.join(' ')}.` : ''}`)
    } catch (error) { notices.wrong(error) }
  }

  function one(item: Incoming, split: boolean): Promise<boolean> {
    change(item.id, { state: 'coming', message: '' })
    const s = store.session!
    const tracks = rows(s, 'channel').filter(c => c.kind === 'track').sort(byOrder)
    const rest = rows(s, 'channel').filter(c => c.kind !== 'track').sort(byOrder)
    // After the last track, before the buses that follow it.
    const after = tracks.at(-1)?.order ?? orderAt(rest, 0)
    const to = rows(s, 'channel').filter(c => c.role === 'main').sort(byOrder)[0]?.id ?? ''
    const query = new URLSearchParams({ id: item.id, file: item.file.name.slice(0, 280), after, to, split: split ? '1' : '0', ...by() })
    return new Promise(done => {
      const request = current = new XMLHttpRequest()
      request.open('POST', `/api/sessions/${encodeURIComponent(store.id)}/tracks?${query}`)
      request.upload.onprogress = e => change(item.id, { share: e.total ? e.loaded / e.total : 0 })
      const fail = (problem: Partial<Problem>) => {
        change(item.id, { state: 'failed', message: sentences(problem.message ?? 'it failed', problem.kept), canSplit: problem.error === 'layout' })
        done(false)
      }
      request.onerror = () => fail({ message: `${item.file.name}: the server did not answer.`, kept: 'What came in before it stays.' })
      request.onabort = () => { change(item.id, { state: 'stopped', message: 'stopped; nothing of it was kept' }); done(false) }
      request.onload = () => {
        const answer = JSON.parse(request.responseText || '{}') as { notes?: string[] } & Partial<Problem>
        if (request.status >= 400) { fail(answer); return }
        answer.notes?.forEach(n => notices.tell(n))
        change(item.id, { state: 'done', share: 1 })
        void store.catchUp().then(() => done(true))
      }
      request.send(item.file)
    })
  }

  function stop(id: string): void {
    const item = list.value.find(i => i.id === id)
    if (item?.state === 'coming') current?.abort()
    else list.value = list.value.filter(i => i.id !== id)
  }

  function split(id: string): void { change(id, { state: 'waiting', share: 0, message: '', canSplit: false }); void run(true) }

  const rate = () => settings(store.session!).sampleRate
  return { list, add, bringResponse, stop, split, rate }
})
