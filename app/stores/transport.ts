// Playing: where, what is repeated, what the meters say. The player itself is in audio/.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { NOTHING_SEEN, type Observed } from '@nullet/core/checks/observe'
import { sessionFrames } from '@nullet/core/graph/sessionLength'
import { snapped as toGrid } from '@nullet/core/notes/tempo'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { Player } from '~/audio/player'
import { Ballistics } from '~/numbers/ballistics'
import { Hurry } from '~/numbers/hurry'
import type { Behind } from '~/session/behind'
import { useNotices } from './notices'
import { useSession } from './session'

const WARM_MS = 400
/** A scroll counts for so long after it. */
const SCROLLED_BEATS = 6
/** A read-ahead longer than this is told: the hand is noticeably late then. */
const TOLD_AHEAD_S = 0.15
/** Meters outside the session, where clipping does harm. */
const OUTSIDE = /^(port|unit)\//

export const useTransport = defineStore('transport', () => {
  const store = useSession(),
    notices = useNotices()
  const playing = shallowRef(false)
  const starting = shallowRef(false)
  const position = shallowRef(0)
  const repeat = shallowRef<{ from: number; to: number } | null>(null)
  const repeating = shallowRef(false)
  const info = shallowRef({ latency: 0, readAhead: 0, cores: 1 })
  const underruns = shallowRef(0)
  /** Set once a play where this machine could not keep up. */
  const fellBehind = shallowRef<Behind | null>(null)
  const trims = shallowRef<ReadonlyMap<string, number>>(new Map())
  /** Raised every animation frame while meters move: drawings follow it. */
  const beat = shallowRef(0)
  const ballistics = new Ballistics()
  /**
   * Displayed level in dB by channel id, `port/…`, `ears`; gain reduction in dB by `gain/<slot>`; the highest level in
   * dB since playing started.
   */
  const { levels, highest } = ballistics
  const now = { lufs: -Infinity, truePeak: -Infinity }
  const raw = new Map<string, number>()
  const hurry = new Hurry()
  /** Beats for which the page has more to do than to show levels. */
  let scrolling = 0
  /**
   * Meters are read and painted in this beat: in all, in every other one where frames are late, in every third of a
   * scroll.
   */
  let painted = true
  /** Time since they were, ms. */
  let unread = 0
  /** Highest level at ports and units, kept until the network changes: what only shows when sound runs. */
  const seen = shallowRef<Observed>(NOTHING_SEEN)
  let player: Player | null = null
  let frame = 0,
    lastTime = 0,
    clicks = 0
  let behind = false

  /** Grid that hands snap to, in beats; 0 for none. A bar is as many as the session has in one. */
  const snap = shallowRef<0 | 0.25 | 1 | 'bar'>(0)
  function snapped(frame: number): number {
    if (!snap.value || !store.session) return frame
    const { tempo, beatsPerBar } = settings(store.session)
    return toGrid(tempo, frame, snap.value === 'bar' ? beatsPerBar : snap.value, rate.value)
  }

  const rate = computed(() => (store.session ? settings(store.session).sampleRate : 48000))
  const length = computed(() => (store.session ? sessionFrames(store.session) : 0))

  function engine(): Player {
    if (player) return player
    player = new Player({
      ended: () => {
        stop()
        position.value = 0
      },
      otherRate: hz =>
        notices.tell(
          `The output runs at ${hz / 1000} kHz; the session’s ${rate.value / 1000} kHz are converted for listening. Prints are not touched by that.`
        ),
      faults: ids => {
        if (ids.length)
          notices.wrong(
            new Error(
              `Muted, because it put out values that are not numbers: ${ids.map(id => store.session?.channel[id]?.name ?? id).join(', ')}. Everything else goes on. Bypass its slots one by one to find the one that does it.`
            )
          )
      },
      error: message => {
        stop()
        notices.wrong(new Error(`Playing stopped: ${message}`))
      },
      plan: p => {
        // Once each time it is played: it may grow several times in a row.
        if (playing.value && !behind && p.readAhead > info.value.readAhead && p.readAhead > TOLD_AHEAD_S * rate.value) {
          behind = true
          fellBehind.value = { aheadMs: Math.round((p.readAhead / rate.value) * 1000), heavy: p.heavy }
        }
        info.value = { latency: p.latency, readAhead: p.readAhead, cores: p.cores }
      }
    })
    player.setSession(store.session!)
    return player
  }
  watch(
    () => store.id,
    () => {
      stop()
      void player?.close()
      player = null
      position.value = 0
      levels.clear()
      trims.value = new Map()
    }
  )
  // The engine is made ready soon after a session is opened, so that the first click on play is answered at once.
  watch(
    () => store.session !== null,
    open => {
      if (open)
        setTimeout(() => {
          if (store.session) engine()
        }, WARM_MS)
    }
  )
  store.onChanges(changes => {
    player?.change(changes)
    if (seen.value !== NOTHING_SEEN) seen.value = NOTHING_SEEN
  })

  async function play(from = position.value): Promise<void> {
    if (!store.session) return
    // A later click takes the place of one whose sound is still on its way.
    const mine = ++clicks
    starting.value = true
    behind = false
    highest.clear()
    position.value = from >= length.value ? 0 : from
    try {
      await engine().play(position.value, length.value, repeating.value ? repeat.value : null)
      if (mine !== clicks) return
      playing.value = true
      lastTime = performance.now()
      unread = 0
      cancelAnimationFrame(frame)
      tick()
    } catch (error) {
      notices.wrong(error)
    } finally {
      if (mine === clicks) starting.value = false
    }
  }

  function stop(): void {
    clicks++
    playing.value = starting.value = false
    player?.stop()
  }

  const toggle = () => (playing.value || starting.value ? stop() : play())

  async function seek(to: number): Promise<void> {
    position.value = Math.max(0, Math.min(length.value, Math.round(to)))
    if (playing.value || starting.value) await play(position.value)
  }

  function setRepeat(range: { from: number; to: number } | null, on = range !== null): void {
    repeat.value = range
    repeating.value = on && range !== null
    player?.setRepeat(repeating.value ? repeat.value : null)
  }

  /** Lowers channels while they are compared; an empty list leaves everything as it is. */
  function setTrims(list: [string, number][]): void {
    trims.value = new Map(list)
    engine().setTrims(list)
  }

  /** From one main to the next, while playing too: two mixes of one session. */
  function hearNextMain(): void {
    const mains = rows(store.session!, 'channel')
      .filter(c => c.role === 'main')
      .sort(byOrder)
    if (mains.length < 2)
      return notices.tell(mains.length ? `There is one main: “${mains[0]!.name}”.` : 'There is no main yet.')
    const here = mains.findIndex(m => m.id === settings(store.session!).heardChannel)
    store.apply('setSession', { heardChannel: mains[(here + 1) % mains.length]!.id })
  }

  const heardFrame = () => player?.heardFrame() ?? null

  function overloaded(key: string, db: number): void {
    if (!OUTSIDE.test(key) || db <= (seen.value.peaksDb.get(key) ?? -Infinity) + 0.1) return
    seen.value = { peaksDb: new Map(seen.value.peaksDb).set(key, db) }
  }

  /** @returns whether levels move on when nothing plays */
  function readMeters(): boolean {
    const ms = unread
    unread = 0
    if (!playing.value) return ballistics.step(null, ms, overloaded)
    player!.meters(raw)
    now.lufs = raw.get('lufs') ?? now.lufs
    now.truePeak = raw.get('truePeak') ?? now.truePeak
    raw.delete('lufs')
    raw.delete('truePeak')
    return ballistics.step(raw, ms, overloaded)
  }

  function tick(): void {
    const time = performance.now(),
      ms = time - lastTime
    lastTime = time
    unread += ms
    if (playing.value && player) {
      const at = player.position()
      if (at !== null) position.value = at
      underruns.value = player.underruns
    }
    const late = hurry.step(ms, playing.value)
    painted = !playing.value || beat.value % (scrolling > 0 ? 3 : late ? 2 : 1) === 0
    scrolling--
    const moving = (painted && readMeters()) || playing.value
    beat.value++
    if (moving) frame = requestAnimationFrame(tick)
  }

  return {
    playing,
    starting,
    position,
    repeat,
    repeating,
    info,
    underruns,
    fellBehind,
    seen,
    beat,
    isPainted: () => painted,
    /** A hand scrolls: meters go slower for a moment. */
    moreToDo: () => (scrolling = SCROLLED_BEATS),
    levels,
    highest,
    now,
    rate,
    length,
    play,
    stop,
    toggle,
    seek,
    setRepeat,
    engine,
    heardFrame,
    hearNextMain,
    trims,
    setTrims,
    snap,
    snapped
  }
})
