// Files on their way in: one after the other, each with its progress, its cancel and its reason when it fails.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { sentences } from '~/words/format'
import { Failed } from './api'
import { newId, orderAt } from './ids'
import { useNotes } from './notes'
import { useNotices } from './notices'
import { useSession } from './session'
import { upload } from './upload'

export interface Incoming {
  id: string
  file: File
  state: 'waiting' | 'coming' | 'done' | 'failed' | 'stopped'
  share: number
  message: string
  /** Too many legs for one track: it can come as mono tracks. */ canSplit: boolean
}

interface Brought {
  notes: string[]
}

export const useImports = defineStore('imports', () => {
  const store = useSession(),
    notices = useNotices()
  const list = shallowRef<Incoming[]>([])
  let running = false
  let current: AbortController | null = null

  const change = (id: string, fields: Partial<Incoming>) => {
    list.value = list.value.map(i => (i.id === id ? { ...i, ...fields } : i))
  }

  function add(files: Iterable<File>): void {
    const all = [...files],
      isMidi = (f: File) => /\.midi?$/i.test(f.name)
    all.filter(isMidi).forEach(f => void useNotes().bringIn(f))
    list.value = [
      ...list.value.filter(i => i.state !== 'done'),
      ...all
        .filter(f => !isMidi(f))
        .map(file => ({ id: newId('t'), file, state: 'waiting' as const, share: 0, message: '', canSplit: false }))
    ]
    void run(false)
  }

  async function run(split: boolean): Promise<void> {
    if (running) return
    running = true
    let made = 0
    for (
      let next = list.value.find(i => i.state === 'waiting');
      next;
      next = list.value.find(i => i.state === 'waiting')
    ) {
      if (await one(next, split)) made++
      split = false
    }
    running = false
    if (made) notices.tell(made === 1 ? 'One file became a track.' : `${made} files became tracks.`)
    list.value = list.value.filter(i => i.state === 'failed' || i.state === 'waiting')
  }

  /** What a file is to become, in this session, as a gesture of this page that the server carries out. */
  const asTracks = (file: File, query: Record<string, string>) => {
    const gesture = store.nextServerGesture()
    return {
      path: `/api/sessions/${encodeURIComponent(store.id)}/tracks`,
      query: { file: file.name.slice(0, 280), gesture, client: store.client, ...query },
      file,
      session: store.id,
      gesture
    }
  }

  /** A file as the impulse response of a slot. */
  async function bringResponse(file: File, slot: string): Promise<void> {
    try {
      const said = await upload<Brought>(asTracks(file, { id: newId('r'), split: '0', response: slot }))
      await store.catchUp()
      notices.tell(
        `“${file.name}” is the impulse response now.${said?.notes.length ? ` ${said.notes.join(' ')}.` : ''}`
      )
    } catch (error) {
      notices.wrong(error)
    }
  }

  async function one(item: Incoming, split: boolean): Promise<boolean> {
    change(item.id, { state: 'coming', message: '' })
    const s = store.session!
    const tracks = rows(s, 'channel')
      .filter(c => c.kind === 'track')
      .sort(byOrder)
    const rest = rows(s, 'channel')
      .filter(c => c.kind !== 'track')
      .sort(byOrder)
    // After the last track, before the buses that follow it.
    const after = tracks.at(-1)?.order ?? orderAt(rest, 0)
    const to =
      rows(s, 'channel')
        .filter(c => c.role === 'main')
        .sort(byOrder)[0]?.id ?? ''
    current = new AbortController()
    try {
      const said = await upload<Brought>({
        ...asTracks(item.file, { id: item.id, after, to, split: split ? '1' : '0' }),
        signal: current.signal,
        progress: share => change(item.id, { share }),
        cut: isCut =>
          change(item.id, { message: isCut ? 'the line was cut; it goes on by itself where it stopped' : '' })
      })
      said?.notes.forEach(n => notices.tell(n))
      change(item.id, { state: 'done', share: 1 })
      await store.catchUp()
      return true
    } catch (error) {
      if ((error as Error).name === 'AbortError')
        change(item.id, { state: 'stopped', message: 'stopped; nothing of it was kept' })
      else {
        const {
          message,
          kept,
          error: kind
        } = error instanceof Failed ? error.problem : { message: (error as Error).message, kept: '', error: '' }
        change(item.id, { state: 'failed', message: sentences(message, kept), canSplit: kind === 'layout' })
      }
      return false
    }
  }

  function stop(id: string): void {
    const item = list.value.find(i => i.id === id)
    if (item?.state === 'coming') current?.abort()
    else list.value = list.value.filter(i => i.id !== id)
  }

  function split(id: string): void {
    change(id, { state: 'waiting', share: 0, message: '', canSplit: false })
    void run(true)
  }

  const rate = () => settings(store.session!).sampleRate
  return { list, add, bringResponse, stop, split, rate }
})
