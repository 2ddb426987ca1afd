// Files on their way in: several at once, one progress and one stop for all; a file that cannot be read does not hold
// up the others. In a session without audio the rate that most files share becomes its rate.
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { keysAfter } from '@nullet/core/session/order'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { commonestRate, importWords, naturally, rateOfFile } from '~/session/arriving'
import { plural, sentences } from '~/words/format'
import { Failed } from './api'
import { newId, orderAt } from './ids'
import { useNotes } from './notes'
import { useNotices } from './notices'
import { usePackages } from './packages'
import { isMidi, type Dropped } from '~/session/dropped'
import { useSession } from './session'
import { useShell } from './shell'
import { useTracks } from './tracks'
import { upload } from './upload'

export interface Incoming {
  id: string
  file: File
  /** Order key after which its track is put. */ after: string
  state: 'waiting' | 'coming' | 'done' | 'failed' | 'stopped'
  share: number
  message: string
  split: boolean
  /** Too many legs for one track: it can come as mono tracks. */ canSplit: boolean
}
interface Brought {
  notes: string[]
}

/** So many files are sent at once: the server cuts them in as many threads as it has cores. */
const AT_ONCE = 3
export const useImports = defineStore('imports', () => {
  const store = useSession(),
    notices = useNotices()
  const list = shallowRef<Incoming[]>([])
  const controllers = new Map<string, AbortController>()
  let running: Promise<void> | null = null,
    began = 0

  const change = (id: string, fields: Partial<Incoming>) => {
    list.value = list.value.map(i => (i.id === id ? { ...i, ...fields } : i))
  }
  const open = computed(() => list.value.filter(i => i.state === 'waiting' || i.state === 'coming'))
  /** Of everything that was dropped, in bytes. */
  const share = computed(() => {
    const whole = list.value.reduce((sum, i) => sum + i.file.size, 0)
    return whole
      ? list.value.reduce((sum, i) => sum + i.file.size * (i.state === 'failed' ? 1 : i.share), 0) / whole
      : 0
  })
  /** Seconds, by how it went so far; undefined as long as that says nothing. */
  const secondsLeft = computed(() => {
    const gone = (performance.now() - began) / 1000
    return gone < 1 || share.value < 0.02 ? undefined : (gone / share.value) * (1 - share.value)
  })

  async function add(files: Iterable<File>): Promise<void> {
    const all = [...files]
    all.filter(isMidi).forEach(f => void useNotes().bringIn(f))
    const audio = all.filter(f => !isMidi(f)).sort((a, b) => naturally.compare(a.name, b.name))
    if (!audio.length) return
    if (!running) await followRate(audio)
    const last = [...list.value].reverse().find(i => i.state !== 'failed')?.after ?? lastOrder()
    const keys = [last, ...keysAfter(last, audio.length)]
    list.value = [
      ...list.value.filter(i => i.state !== 'done'),
      ...audio.map((file, i) => ({
        id: newId('t'),
        file,
        after: keys[i]!,
        state: 'waiting' as const,
        share: 0,
        message: '',
        split: false,
        canSplit: false
      }))
    ]
    go()
  }

  /** What was dropped or chosen: audio and notes come in here, a package becomes a session of its own. */
  function take({ files, packages, others }: Dropped): void {
    void add(files)
    if (packages[0]) void usePackages().bring(packages[0])
    if (packages.length > 1) notices.tell('One session package at a time: the first one is brought in.')
    if (others && files.length)
      notices.tell(`${plural(others, 'file', 'files')} of the folder are not audio and were left out.`)
    if (!files.length && !packages.length) notices.tell('There is no audio in what was dropped.')
  }

  /** After the last track, before the buses that follow it. */
  function lastOrder(): string {
    const all = rows(store.session!, 'channel').sort(byOrder)
    const tracks = all.filter(c => c.kind === 'track')
    return (
      tracks.at(-1)?.order ??
      orderAt(
        all.filter(c => c.kind !== 'track'),
        0
      )
    )
  }

  /** The rate of the files becomes that of a session that holds no audio yet, and it is said. */
  async function followRate(files: readonly File[]): Promise<void> {
    if (rows(store.session!, 'medium').length) return
    const wanted = commonestRate(await Promise.all(files.map(rateOfFile)))
    const now = settings(store.session!).sampleRate
    if (!wanted || wanted === now || rows(store.session!, 'medium').length) return
    if (!store.apply('setSession', { sampleRate: wanted })) return
    // The server must know before the first file is there: with audio in it, the rate stays.
    await store.catchUp()
    if (rate() === wanted)
      notices.tell(`The session runs at ${wanted / 1000} kHz now, as the files do; it held no audio yet.`)
  }

  function go(): void {
    running ??= run().finally(() => {
      running = null
      if (list.value.some(i => i.state === 'waiting')) go()
    })
  }

  async function run(): Promise<void> {
    began = performance.now()
    const brought: string[] = []
    const lane = async () => {
      for (
        let next = list.value.find(i => i.state === 'waiting');
        next;
        next = list.value.find(i => i.state === 'waiting')
      )
        if (await one(next)) brought.push(next.id)
    }
    await Promise.all(Array.from({ length: AT_ONCE }, lane))
    const made = rows(store.session!, 'medium').filter(m => brought.some(id => m.id.startsWith(id)))
    const pairs = useTracks().pairs.filter(p =>
      brought.some(id => p.left.startsWith(id) || p.right.startsWith(id))
    ).length
    if (brought.length)
      notices.tell(
        importWords(brought.length, made, rate()) +
          (pairs ? ` ${plural(pairs, 'pair', 'pairs')} of them can be stereo tracks.` : ''),
        pairs ? { label: 'Pairs…', run: () => (useShell().sheet = 'pairs') } : undefined
      )
    const failed = list.value.filter(i => i.state === 'failed').length
    if (failed && brought.length) notices.tell(`${plural(failed, 'file', 'files')} could not come in: see Sources.`)
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
      await store.stored()
      const said = await upload<Brought>(asTracks(file, { id: newId('r'), split: '0', response: slot }))
      await store.catchUp()
      notices.tell(
        `“${file.name}” is the impulse response now.${said?.notes.length ? ` ${said.notes.join(' ')}.` : ''}`
      )
    } catch (error) {
      notices.wrong(error)
    }
  }

  async function one(item: Incoming): Promise<boolean> {
    const { id, file, after, split } = item
    change(id, { state: 'coming', message: '' })
    const to =
      rows(store.session!, 'channel')
        .filter(c => c.role === 'main')
        .sort(byOrder)[0]?.id ?? ''
    const controller = new AbortController()
    controllers.set(id, controller)
    try {
      await upload<Brought>({
        ...asTracks(file, { id, after, to, split: split ? '1' : '0' }),
        signal: controller.signal,
        progress: sent => change(id, { share: sent }),
        cut: isCut => change(id, { message: isCut ? 'the line was cut; it goes on by itself where it stopped' : '' })
      })
      change(id, { state: 'done', share: 1 })
      await store.catchUp()
      return true
    } catch (error) {
      if ((error as Error).name === 'AbortError')
        change(id, { state: 'stopped', share: 1, message: 'stopped; nothing of it was kept' })
      else {
        const {
          message,
          kept,
          error: kind
        } = error instanceof Failed ? error.problem : { message: (error as Error).message, kept: '', error: '' }
        change(id, { state: 'failed', message: sentences(message, kept), canSplit: kind === 'layout' })
      }
      return false
    } finally {
      controllers.delete(id)
    }
  }

  function stop(id: string): void {
    if (controllers.has(id)) controllers.get(id)!.abort()
    else list.value = list.value.filter(i => i.id !== id)
  }
  const stopAll = () => open.value.forEach(i => stop(i.id))

  function split(id: string): void {
    change(id, { state: 'waiting', share: 0, message: '', split: true, canSplit: false })
    go()
  }

  const rate = () => settings(store.session!).sampleRate
  return { list, open, share, secondsLeft, add, take, bringResponse, stop, stopAll, split, rate }
})
