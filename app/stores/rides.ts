// Rides: while sound runs and riding is on, what a hand moves is written as an envelope, at the frames that were heard.
// Until it lets go, the engine hears the hand instead of the old envelope. One ride is one step of undo.
import { defineStore } from 'pinia'
import { shallowRef, watch } from 'vue'
import { spliced, valueAt } from '@nullet/core/movement/envelope'
import { FLOOR_DB } from '@nullet/core/foundation/elementary'
import { envelopeOn, movingOf, targetLabel, targetName, type Target } from '@nullet/core/movement/targets'
import { thin } from '@nullet/core/movement/thin'
import type { EnvelopePoint } from '@nullet/core/session/rows'
import { newId } from './ids'
import { useNotices } from './notices'
import { useSession } from './session'
import { useTransport } from './transport'

/** Time in which the old line is met again after the hand let go. */
const GLIDE_S = 0.1

interface Take {
  target: Target
  value: number | null
  points: EnvelopePoint[]
}

export const useRides = defineStore('rides', () => {
  const store = useSession(),
    transport = useTransport(),
    notices = useNotices()
  const armed = shallowRef(false)
  const takes = new Map<string, Take>()
  const count = shallowRef(0)

  /** Would a hand be recorded now? */
  const running = () => armed.value && transport.playing

  function toggle(): void {
    armed.value = !armed.value
    if (!armed.value) finish()
    else
      notices.tell('Riding is on: while it plays, faders, sends and settings that you move are written as envelopes.')
  }

  /** A hand holds these at these values: dB on top of the fader for levels, the value itself for the rest. */
  function hold(held: readonly { target: Target; value: number | null }[]): void {
    for (const { target, value } of held) {
      const name = targetName(target),
        moving = movingOf(store.settled(), target)
      if (!moving) continue
      const within =
        value === null || (value <= FLOOR_DB && moving.law === 'db')
          ? null
          : Math.max(moving.min, Math.min(moving.max, value))
      const take = takes.get(name) ?? takes.set(name, { target, value: within, points: [] }).get(name)!
      take.value = within
      stamp(take)
    }
    count.value = takes.size
    show()
  }

  /** Where faders stood with what rode on them when the hand took them. */
  const begun = new Map<string, number>()

  /**
   * A hand on the fader of a channel, and what moves with it by the same number of dB. The faders stay: what lies on
   * top of them moves. Says whether it was written.
   */
  function holdLevels(id: string, ids: readonly string[], db: number | null): boolean {
    if (!running()) return false
    const base = store.settled().channel[id]!.levelDb,
      target = (row: string): Target => ({ owner: 'channel', row, field: 'levelDb' })
    if (base === null) {
      if (!begun.size) notices.tell('A fader at −∞ has nothing to ride on: raise it first.')
      begun.set(id, 0)
      return true
    }
    for (const row of ids) if (!begun.has(row)) begun.set(row, valueNow(target(row)))
    const by = db === null ? null : db - base - (begun.get(id) ?? 0)
    hold(ids.map(row => ({ target: target(row), value: by === null ? null : begun.get(row)! + by })))
    return true
  }

  function stamp(take: Take): void {
    const at = transport.heardFrame()
    if (at === null) return
    const last = take.points.at(-1)
    // From the end of a repeated range to its start: what was written so far is one ride.
    if (last && at < last[0]) {
      write([take])
      take.points = []
    }
    const { points } = take
    if (points.at(-1)?.[0] === at) points.pop()
    points.push([at, take.value])
  }

  /** The engine hears the hand: its value, and no envelope there. */
  function show(): void {
    store.previewEnvelopes([...takes.values()].map(({ target, value }) => ({ target, points: [[0, value]] })))
  }

  function write(list: Take[]): void {
    const edits = list.flatMap(({ target, points }) => {
      const moving = movingOf(store.settled(), target)
      if (!moving || !points.length) return []
      const old = envelopeOn(store.settled(), target)?.points ?? []
      const fresh = thin(points, moving.tolerance, moving.law)
      const made = spliced(
        old.length ? old : [[0, moving.rest]],
        fresh,
        moving.law,
        Math.round(GLIDE_S * transport.rate)
      )
      return [{ verb: 'setEnvelope', args: { id: newId(), target, points: made, on: true } }]
    })
    if (!edits.length) return
    const label = list.length === 1 ? `Ride: ${targetLabel(store.session!, list[0]!.target)}` : `Ride of ${list.length}`
    store.apply('several', { label, edits })
  }

  /** Where the envelope of a target stands now; where it rests if there is none. */
  function valueNow(target: Target): number {
    const moving = movingOf(store.settled(), target)!,
      envelope = envelopeOn(store.settled(), target)
    return envelope?.on && envelope.points.length
      ? valueAt(envelope.points, transport.position, moving.law)
      : moving.rest
  }

  /** The hand let go. Says whether it held something. */
  function finish(): boolean {
    const held = begun.size > 0 || takes.size > 0
    begun.clear()
    if (!takes.size) return held
    const done = [...takes.values()]
    done.forEach(stamp)
    takes.clear()
    count.value = 0
    write(done)
    return true
  }

  // What is held still is written too.
  watch(
    () => transport.beat,
    () => {
      if (takes.size) takes.forEach(stamp)
    }
  )
  watch(
    () => transport.playing,
    playing => {
      if (!playing) finish()
    }
  )

  return { armed, count, running, valueNow, toggle, hold, holdLevels, finish }
})
