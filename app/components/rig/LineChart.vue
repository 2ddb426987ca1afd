<script setup lang="ts">
// A small line chart in the page's own colours.
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useTheme } from '~/stores/theme'
import { plotly } from './plotly'

/** @param least the height of the axis is no less than this: what is flat looks flat */
const props = defineProps<{
  x: number[]
  y: number[]
  xTitle: string
  yTitle: string
  log?: boolean
  least?: number
  label: string
}>()
/** Undefined: as the numbers are. */
function heights(): [number, number] | undefined {
  const low = Math.min(...props.y),
    high = Math.max(...props.y)
  const middle = (low + high) / 2
  return props.least && high - low < props.least ? [middle - props.least / 2, middle + props.least / 2] : undefined
}
const box = ref<HTMLElement>()
const theme = useTheme()

async function draw(): Promise<void> {
  const lib = await plotly()
  if (!box.value) return
  const style = getComputedStyle(box.value),
    get = (n: string) => style.getPropertyValue(n).trim()
  const axis = {
    gridcolor: get('--rule'),
    zerolinecolor: get('--rule'),
    tickfont: { size: 10 },
    linecolor: get('--rule')
  }
  await lib.react(
    box.value,
    [
      {
        x: props.x,
        y: props.y,
        mode: 'lines',
        line: { color: get('--signal'), width: 1.5 },
        hoverlabel: { font: { family: 'IBM Plex Mono', size: 11 } }
      }
    ],
    {
      height: 150,
      margin: { l: 44, r: 8, t: 6, b: 34 },
      paper_bgcolor: 'transparent',
      plot_bgcolor: get('--surface'),
      showlegend: false,
      font: { family: 'IBM Plex Sans', size: 11, color: get('--ink-2') },
      xaxis: {
        ...axis,
        title: { text: props.xTitle, standoff: 4 },
        ...(props.log
          ? {
              type: 'log',
              tickvals: [50, 100, 200, 500, 1000, 2000, 5000, 10000, 20000],
              ticktext: ['50', '100', '200', '500', '1k', '2k', '5k', '10k', '20k']
            }
          : {})
      },
      yaxis: { ...axis, title: { text: props.yTitle, standoff: 4 }, range: heights() }
    },
    { displayModeBar: false, responsive: true }
  )
}
watch(
  () => [props.x, props.y, theme.name],
  () => void draw(),
  { flush: 'post' }
)
onMounted(draw)
onBeforeUnmount(() => {
  const el = box.value
  if (el) void plotly().then(p => p.purge(el))
})
</script>

<template><div ref="box" role="img" :aria-label="label" /></template>
