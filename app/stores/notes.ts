// Note tracks: made, brought in from a file, their phrases changed while they play.
import { defineStore } from 'pinia'
import { goTo } from './goTo'
import { readMidi } from '@nullet/core/formats/midi'
import { phrasesOf } from '@nullet/core/notes/phrases'
import { byOrder, rows } from '@nullet/core/session/session'
import type { Note, Phrase } from '@nullet/core/session/rows'
import { useAsk } from './ask'
import { newId, orderAt, ordersAtEnd } from './ids'
import { useNotices } from './notices'
import { useSelection } from './selection'
import { useSession } from './session'
import { useShell } from './shell'

type Fields = Partial<Omit<Phrase, 'id' | 'channel'>>
interface Made {
  name: string
  fields: Fields
}

/** What a new note track begins with. */
const STARTS: Record<string, { label: string; hint: string; name: string; fields: Fields }> = {
  steps: {
    label: 'a step pattern',
    hint: 'a drum in sixteenths over a bar, repeated',
    name: 'Pattern',
    fields: {
      as: 'steps',
      voice: 'drum',
      repeats: 16,
      notes: [
        [0, 0.25, 38, 110],
        [1, 0.25, 38, 80],
        [2, 0.25, 38, 110],
        [3, 0.25, 38, 80]
      ]
    }
  },
  chord: {
    label: 'a held chord',
    hint: 'a pad that stays: a carrier for spectral keying',
    name: 'Held chord',
    fields: {
      as: 'chord',
      voice: 'pad',
      lengthBeats: 64,
      notes: [
        [0, 64, 45, 90],
        [0, 64, 52, 90],
        [0, 64, 60, 90]
      ]
    }
  },
  notes: {
    label: 'an empty phrase',
    hint: 'four bars to be filled',
    name: 'Notes',
    fields: { as: 'notes', voice: 'pluck', lengthBeats: 16 }
  }
}

export const useNotes = defineStore('notes', () => {
  const store = useSession(),
    ask = useAsk(),
    shell = useShell(),
    selection = useSelection(),
    notices = useNotices()

  async function newTrack(): Promise<void> {
    const choices = [
      ...Object.entries(STARTS).map(([value, s]) => ({ value, label: s.label, hint: s.hint })),
      { value: 'file', label: 'notes from a Standard MIDI File…', hint: 'or drop one anywhere' }
    ]
    const answer = await ask.ask({ title: 'New note track with…', kind: 'choice', choices })
    if (answer === 'file') return pickFile()
    const start = STARTS[answer ?? '']
    if (!start) return
    const name = await ask.ask({
      title: 'New note track',
      kind: 'text',
      initial: start.name,
      act: 'Make the track',
      placeholder: 'name of the track'
    })
    if (name) make(`New note track “${name}”`, [{ name, fields: start.fields }])
  }

  function pickFile(): void {
    const input = Object.assign(document.createElement('input'), { type: 'file', accept: '.mid,.midi,audio/midi' })
    input.onchange = () => {
      if (input.files?.[0]) void bringIn(input.files[0])
    }
    input.click()
  }

  /** Tracks after the last track, feeding the main. Opens the first. */
  function make(label: string, list: Made[], more: { verb: string; args: unknown }[] = []): boolean {
    const channels = rows(store.session!, 'channel')
    const tracks = channels.filter(c => c.kind === 'track').sort(byOrder)
    const orders =
      list.length === 1
        ? [orderAt(channels.sort(byOrder), channels.findIndex(c => c.id === tracks.at(-1)?.id) + 1)]
        : ordersAtEnd(channels, list.length)
    const to = channels.filter(c => c.role === 'main').sort(byOrder)[0]?.id ?? null
    const ids = list.map(() => newId())
    const done = store.apply('several', {
      label,
      edits: [
        {
          verb: 'createChannels',
          args: {
            role: 'track',
            layout: ['L', 'R'],
            to,
            colour: 9,
            channels: list.map((m, i) => ({ id: ids[i], name: m.name, order: orders[i], feedId: newId() }))
          }
        },
        ...list.map((m, i) => ({
          verb: 'setPhrase',
          args: { id: newId(), channel: ids[i], fields: { name: m.name, ...m.fields } }
        })),
        ...more
      ]
    })
    if (done) {
      selection.set(ids, ids[0]!)
      void open(ids[0]!)
    }
    return done
  }

  async function open(channel: string): Promise<void> {
    if (!phrasesOf(store.session!, channel).length)
      return notices.tell('It has no notes. A new note track is made with n n.')
    shell.openSlot = null
    shell.railOf = channel
    shell.openNotes = channel
    await goTo({ path: `/s/${store.id}/network`, query: { sel: selection.list.join(',') } })
  }

  /** A Standard MIDI File as note tracks. Its tempo map is taken where the session has no notes yet. */
  async function bringIn(file: File): Promise<void> {
    try {
      const read = readMidi(new Uint8Array(await file.arrayBuffer()), file.name)
      const first = !rows(store.session!, 'phrase').length
      const list = read.tracks.map((t): Made => ({
        name: t.name,
        fields: { as: 'notes', voice: t.drums ? 'drum' : 'pluck', lengthBeats: t.lengthBeats, notes: t.notes }
      }))
      const tempo = first ? [{ verb: 'setSession', args: { tempo: read.tempo, beatsPerBar: read.beatsPerBar } }] : []
      if (!make(`Notes from ${file.name}`, list, tempo)) return
      notices.tell(
        `${list.length === 1 ? 'One note track' : `${list.length} note tracks`} from ${file.name}. ${first ? `The session has its tempo now: ${read.tempo.length === 1 ? `${Number(read.tempo[0]![1].toFixed(2))} bpm` : `${read.tempo.length} tempos`}.` : 'The tempo of the session stays as it was.'}`,
        store.thisUndo()
      )
      read.notes.forEach(n => notices.tell(n))
    } catch (error) {
      notices.wrong(error)
    }
  }

  function set(phrase: Phrase, fields: Fields): void {
    store.apply('setPhrase', { id: phrase.id, channel: phrase.channel, fields })
  }
  function setNotes(phrase: Phrase, notes: Note[]): void {
    set(phrase, { notes: [...notes].sort((a, b) => a[0] - b[0] || a[2] - b[2]) })
  }
  function add(channel: string): void {
    const all = phrasesOf(store.session!, channel),
      last = all.at(-1)
    store.apply('setPhrase', {
      id: newId(),
      channel,
      fields: {
        ...STARTS.notes!.fields,
        name: `Phrase ${all.length + 1}`,
        voice: last?.voice ?? 'pluck',
        startBeat: last ? last.startBeat + last.lengthBeats * last.repeats : 0
      }
    })
  }

  return { newTrack, open, bringIn, set, setNotes, add }
})
