<script setup lang="ts">
// Where sound lies in the session, as one outline of all clips. Click to go there; Shift and drag marks a range to
// repeat.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { Row } from '@nullet/core/session/rows'
import { clipLength } from '@nullet/core/session/session'
import { useSession } from '~/stores/session'
import { clearCanvas } from '~/style/canvas'
import { useInk } from '~/style/ink'
import { useTransport } from '~/stores/transport'
import { useWaveforms } from '~/stores/waveforms'

const props = defineProps<{ clips: Row<'clip'>[] }>()
const store = useSession(),
  transport = useTransport(),
  waveforms = useWaveforms()
const canvas = ref<HTMLCanvasElement>()
const drag = ref<{ from: number; to: number } | null>(null)
let observer: ResizeObserver | null = null

const COLUMNS = 400
interface Drawn {
  peaks: Int16Array
  frames: number
  length: number
  squares: Float32Array
}
/** What each clip gives, by its row: rows that an edit leaves alone stay the same. */
const drawn = new WeakMap<Row<'clip'>, Drawn>()

/** Squares of the highest sample of a clip a column, 0 … 1. */
function squaresOf(clip: Row<'clip'>, peaks: Int16Array, frames: number, length: number): Float32Array {
  const known = drawn.get(clip)
  if (known?.peaks === peaks && known.frames === frames && known.length === length) return known.squares
  const squares = new Float32Array(COLUMNS)
  for (let x = 0; x < COLUMNS; x++) {
    const at = (x / COLUMNS) * length - clip.startFrame
    if (at < 0 || at >= frames) continue
    const first = Math.floor((at + clip.offsetFrames) / 256),
      last = Math.max(first + 1, Math.floor((at + clip.offsetFrames + length / COLUMNS) / 256))
    let top = 0
    for (let i = first; i < last && i * 2 + 1 < peaks.length; i++)
      top = Math.max(top, -peaks[i * 2]!, peaks[i * 2 + 1]!)
    squares[x] = (top / 32767) ** 2
  }
  drawn.set(clip, { peaks, frames, length, squares })
  return squares
}

/** Sum of the outlines: the square root of added squares, 0 … 1 a column. */
const outline = computed(() => {
  const out = new Float32Array(COLUMNS),
    { session } = store
  if (!session) return out
  for (const clip of props.clips) {
    const medium = session.medium[clip.medium]
    const peaks = medium && waveforms.of(medium.sha256)
    if (!peaks) continue
    const squares = squaresOf(clip, peaks, clipLength(session, clip), transport.length || 1)
    for (let x = 0; x < COLUMNS; x++) out[x]! += squares[x]!
  }
  return out.map(v => Math.min(1, Math.sqrt(v)))
})

/** Measured when they change: asking for them while meters move would lay the page out anew every frame. */
let width = 0,
  height = 0
const INK = { range: '--acting-soft', signal: '--signal', acting: '--acting' }
const inks = useInk(() => canvas.value!, INK, draw)
function measure(): void {
  const c = canvas.value
  if (!c) return
  width = c.clientWidth
  height = c.clientHeight
  draw()
}
/** The playhead, to the pixel: between two of them there is nothing to draw. */
const playedPx = computed(
  () => Math.round((transport.position / (transport.length || 1)) * width * devicePixelRatio) / devicePixelRatio
)

/** @param from px, as `to`: what lies between is drawn anew, the playhead among it */
function draw(from = 0, to = width): void {
  const c = canvas.value
  if (!c || !width) return
  const g = clearCanvas(c, width, height, from, to),
    ink = inks()
  g.save()
  g.beginPath()
  g.rect(from, 0, to - from, height)
  g.clip()
  const range = drag.value ?? transport.repeat
  if (range) {
    g.fillStyle = ink.range
    g.fillRect((range.from / transport.length) * width, 0, ((range.to - range.from) / transport.length) * width, height)
  }
  const played = playedPx.value,
    column = width / outline.value.length
  g.fillStyle = ink.signal
  for (const [alpha, first, end] of [
    [0.75, Math.max(0, Math.floor(from / column)), played],
    [0.28, Math.ceil(played / column), to]
  ] as const) {
    g.globalAlpha = alpha
    for (let i = first; i < outline.value.length && i * column < end; i++) {
      const v = outline.value[i]!
      g.fillRect(i * column, height / 2 - v * height * 0.48, column, Math.max(1, v * height * 0.96))
    }
  }
  g.globalAlpha = 1
  g.fillStyle = ink.acting
  g.fillRect(played, 0, 1.5, height)
  g.restore()
}
/** Further than the playhead and a column reach, px. */
const BESIDE = 4
watch([outline, () => transport.repeat, drag], () => draw(), { flush: 'post' })
watch(
  playedPx,
  (now, before) => draw(Math.floor(Math.min(now, before)) - BESIDE, Math.ceil(Math.max(now, before)) + BESIDE),
  { flush: 'post' }
)
onMounted(() => {
  observer = new ResizeObserver(measure)
  observer.observe(canvas.value!)
  measure()
})
onBeforeUnmount(() => observer?.disconnect())

const frameAt = (e: PointerEvent) => Math.max(0, Math.min(1, e.offsetX / canvas.value!.clientWidth)) * transport.length
function down(e: PointerEvent): void {
  if (!e.shiftKey) {
    void transport.seek(frameAt(e))
    return
  }
  const from = frameAt(e)
  canvas.value!.setPointerCapture(e.pointerId)
  const move = (m: PointerEvent) => {
    const to = frameAt(m)
    drag.value = { from: transport.snapped(Math.min(from, to)), to: transport.snapped(Math.max(from, to)) }
  }
  canvas.value!.addEventListener('pointermove', move)
  canvas.value!.addEventListener(
    'pointerup',
    () => {
      canvas.value!.removeEventListener('pointermove', move)
      const range = drag.value
      drag.value = null
      transport.setRepeat(
        range && range.to - range.from > transport.rate / 20
          ? { from: Math.round(range.from), to: Math.round(range.to) }
          : null
      )
    },
    { once: true }
  )
}
</script>

<template>
  <canvas
    ref="canvas"
    role="slider"
    aria-label="position"
    :aria-valuenow="Math.round(transport.position / transport.rate)"
    aria-valuemin="0"
    :aria-valuemax="Math.round(transport.length / transport.rate)"
    @pointerdown.left="down"
  />
</template>

<style scoped>
canvas {
  width: 100%;
  cursor: pointer;
  touch-action: none;
}
</style>
