<script setup lang="ts">
// A waveform, drawn once for its width: of a medium, or of peaks that are given. Peaks are pairs of lowest and highest
// of every 256 frames.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useTheme } from '~/stores/theme'
import { clearCanvas, coloursOf } from '~/style/canvas'
import { useWaveforms } from '~/stores/waveforms'

const props = defineProps<{
  sha256?: string
  peaks?: Int16Array
  hue: number
  /** Frames of the medium that are shown. */ from?: number
  frames?: number
}>()
const waveforms = useWaveforms(),
  theme = useTheme()
const shown = computed(() => props.peaks ?? (props.sha256 ? waveforms.of(props.sha256) : undefined))
const canvas = ref<HTMLCanvasElement>()
let observer: ResizeObserver | null = null

function draw(): void {
  const c = canvas.value,
    peaks = shown.value
  if (!c) return
  const w = c.clientWidth,
    h = c.clientHeight
  const g = clearCanvas(c, w, h)
  if (!peaks || !w) return
  g.fillStyle = coloursOf(c, { hue: `--hue-${props.hue}` }).hue
  const first = (props.from ?? 0) / 256,
    count = (props.frames ?? peaks.length * 128) / 256
  let top = 1
  for (let i = 0; i < peaks.length; i++) top = Math.max(top, Math.abs(peaks[i]!))
  for (let x = 0; x < w; x++) {
    let lo = 0,
      hi = 0
    const end = Math.min(peaks.length / 2, Math.max(first + ((x + 1) / w) * count, first + (x / w) * count + 1))
    for (let i = Math.floor(first + (x / w) * count); i < end; i++) {
      lo = Math.min(lo, peaks[2 * i]!)
      hi = Math.max(hi, peaks[2 * i + 1]!)
    }
    const a = h / 2 - ((hi / top) * h) / 2,
      b = h / 2 - ((lo / top) * h) / 2
    g.fillRect(x, a, 1, Math.max(0.6, b - a))
  }
}
watch([shown, () => props.frames, () => props.from, () => theme.name, () => props.hue], draw, { flush: 'post' })
onMounted(() => {
  observer = new ResizeObserver(draw)
  observer.observe(canvas.value!)
  draw()
})
onBeforeUnmount(() => observer?.disconnect())
</script>

<template><canvas ref="canvas" aria-hidden="true" /></template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  height: 100%;
  opacity: 0.85;
}
</style>
