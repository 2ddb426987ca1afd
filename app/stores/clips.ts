// What a track plays, cut to the marked range or to whole bars, made whole again, repeated.
import { defineStore } from 'pinia'
import { beatOfFrame, frameOfBeat } from '@nullet/core/notes/tempo'
import type { Clip } from '@nullet/core/session/rows'
import { clipLength, heardClips, settings } from '@nullet/core/session/session'
import { askNumber } from './askNumber'
import { newIds } from './ids'
import { useNotices } from './notices'
import { useSession } from './session'
import { useTransport } from './transport'

/** Where a clip is cut, it fades for so long. */
const FADE_S = 0.005
const MOST_TIMES = 200

export const useClips = defineStore('clips', () => {
  const store = useSession(),
    transport = useTransport(),
    notices = useNotices()

  /** What a track plays now: of several takes, the one that is heard. */
  const of = (channel: string): Clip[] => heardClips(store.session!).filter(c => c.channel === channel)
  const isCropped = (clip: Clip): boolean => clip.frames !== null || clip.offsetFrames > 0

  /** Bar lines inside a range; the range itself where there are no two. */
  function wholeBars({ from, to }: { from: number; to: number }): { from: number; to: number } {
    const { tempo, beatsPerBar } = settings(store.session!)
    const bar = (frame: number) => beatOfFrame(tempo, frame, transport.rate) / beatsPerBar
    const line = (n: number) => Math.round(frameOfBeat(tempo, n * beatsPerBar, transport.rate))
    const first = Math.ceil(bar(from) - 1e-6),
      last = Math.floor(bar(to) + 1e-6)
    return last > first ? { from: line(first), to: line(last) } : { from, to }
  }

  /** To the marked range, or to whole bars inside of it, or of what is played where nothing is marked. */
  function crop(channel: string, toBars: boolean): void {
    const clips = of(channel)
    if (!clips.length) return notices.tell('There is nothing to crop.')
    const played = {
      from: Math.min(...clips.map(c => c.startFrame)),
      to: Math.max(...clips.map(c => c.startFrame + clipLength(store.session!, c)))
    }
    const marked = transport.repeat ?? played
    const { from, to } = toBars ? wholeBars(marked) : marked
    const inside = clips.filter(c => c.startFrame < to && c.startFrame + clipLength(store.session!, c) > from)
    const ids = (inside.length ? inside : clips).map(c => c.id)
    store.apply('cropClips', {
      ids,
      from: Math.max(0, Math.round(from)),
      to: Math.round(to),
      fadeFrames: Math.round(FADE_S * transport.rate)
    })
  }

  function whole(channel: string): void {
    const ids = of(channel)
      .filter(isCropped)
      .map(c => c.id)
    if (ids.length) store.apply('wholeClips', { ids })
  }

  async function repeat(channel: string): Promise<void> {
    const last = of(channel)
      .sort((a, b) => a.startFrame - b.startFrame)
      .at(-1)
    if (!last) return
    const times = await askNumber({ label: 'Play it how many times', whole: true, min: 2, max: MOST_TIMES, value: 2 })
    if (times) store.apply('repeatClip', { id: last.id, copies: newIds(times - 1) })
  }

  return { of, isCropped, crop, whole, repeat }
})
