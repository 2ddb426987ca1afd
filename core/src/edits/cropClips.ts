// Clips cut to a range, made whole again, and repeated. What they play stays where it is in time.
import { z } from 'zod'
import { Refusal } from '../foundation/refusal'
import { clipLength, type Session } from '../session/session'
import { change, channelNames, defineEdit, need, put } from './edit'

const frame = z.number().int().min(0)
const tracksOf = (session: Session, ids: readonly string[]) =>
  channelNames(session, [...new Set(ids.map(id => session.clip[id]?.channel ?? id))])

/** Cuts clips to a range of the session, in frames; where it cuts, it fades. What lies outside stays in the audio. */
export const cropClips = defineEdit({
  verb: 'cropClips',
  args: z.object({ ids: z.array(z.string()).min(1), from: frame, to: frame, fadeFrames: frame.default(0) }),
  label: (s, { ids }) => `Crop ${tracksOf(s, ids)}`,
  apply(draft, { ids, from, to, fadeFrames }) {
    for (const id of ids) {
      const clip = need(draft, 'clip', id),
        length = clipLength(draft, clip)
      const begin = Math.max(clip.startFrame, from),
        end = Math.min(clip.startFrame + length, to)
      if (begin >= end)
        throw new Refusal(
          'badArguments',
          `“${clip.name || draft.channel[clip.channel]?.name}” plays nothing in that range`,
          [id, clip.channel],
          'Nothing was changed.'
        )
      const fade = Math.min(fadeFrames, Math.floor((end - begin) / 2))
      change(draft, 'clip', id, {
        startFrame: begin,
        offsetFrames: clip.offsetFrames + begin - clip.startFrame,
        frames: end - begin,
        fadeInFrames: begin > clip.startFrame ? fade : Math.min(clip.fadeInFrames, end - begin),
        fadeOutFrames: end < clip.startFrame + length ? fade : Math.min(clip.fadeOutFrames, end - begin)
      })
    }
  }
})

/** All of the audio again, where it was. A clip whose audio would begin before the session begins with the session. */
export const wholeClips = defineEdit({
  verb: 'wholeClips',
  args: z.object({ ids: z.array(z.string()).min(1) }),
  label: (s, { ids }) => `All of ${tracksOf(s, ids)}`,
  apply(draft, { ids }) {
    for (const id of ids) {
      const { startFrame, offsetFrames } = need(draft, 'clip', id)
      const back = Math.min(offsetFrames, startFrame)
      change(draft, 'clip', id, {
        startFrame: startFrame - back,
        offsetFrames: offsetFrames - back,
        frames: null,
        fadeInFrames: 0,
        fadeOutFrames: 0
      })
    }
  }
})

/** Copies of a clip behind it, one after the other without a gap. */
export const repeatClip = defineEdit({
  verb: 'repeatClip',
  args: z.object({ id: z.string(), copies: z.array(z.string()).min(1).max(999) }),
  label: (s, { id, copies }) => `Repeat ${tracksOf(s, [id])} ${copies.length + 1} times`,
  apply(draft, { id, copies }) {
    const clip = need(draft, 'clip', id),
      length = clipLength(draft, clip)
    copies.forEach((copy, i) =>
      put(draft, 'clip', { ...clip, id: copy, startFrame: clip.startFrame + (i + 1) * length })
    )
  }
})
