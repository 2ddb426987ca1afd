<script setup lang="ts">
// The signal drawing of a room: ruled, right-angled. Cables are plugged by dragging from a jack to another.
import { computed, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import { UNITS } from '@nullet/core/rig/units'
import { byOrder, rows } from '@nullet/core/session/session'
import type { Row } from '@nullet/core/session/rows'
import { useSession } from '~/stores/session'
import { useRigGestures, type Plug } from './rigGestures'

const props = defineProps<{ rig: string; open: string | null }>()
const emit = defineEmits<{ open: [id: string] }>()
const store = useSession()
const { plug, pull, askCable } = useRigGestures()
const PORT_W = 168,
  PORT_H = 26,
  JACK_H = 20,
  UNIT_HEAD = 28,
  UNIT_GAP = 18,
  TOP = 30
const box = ref<HTMLElement>()
const width = ref(800)
let observer: ResizeObserver | null = null
onMounted(() => {
  observer = new ResizeObserver(() => {
    width.value = Math.max(560, box.value!.clientWidth)
  })
  observer.observe(box.value!)
})
onBeforeUnmount(() => observer?.disconnect())

const devices = computed(
  () =>
    new Set(
      rows(store.session!, 'interface')
        .filter(i => i.rig === props.rig)
        .map(i => i.id)
    )
)
const ports = (direction: 'out' | 'in') =>
  rows(store.session!, 'port')
    .filter(p => devices.value.has(p.interface) && p.direction === direction)
    .sort(byOrder)
const outs = computed(() => ports('out').map((p, i) => ({ p, y: TOP + i * (PORT_H + 4) })))
const ins = computed(() => ports('in').map((p, i) => ({ p, y: TOP + i * (PORT_H + 4) })))
const unitWidth = computed(() => Math.min(240, width.value - 2 * PORT_W - 200))
const unitX = computed(() => (width.value - unitWidth.value) / 2)
const units = computed(() => {
  let y = TOP
  return rows(store.session!, 'unit')
    .filter(u => u.rig === props.rig)
    .sort(byOrder)
    .map(u => {
      const model = UNITS[u.model]
      const jacks = Math.max(model?.inputs.length ?? 1, model?.outputs.length ?? 1)
      const at = { u, model, y, height: UNIT_HEAD + jacks * JACK_H + 6 }
      y += at.height + UNIT_GAP
      return at
    })
})
const height = computed(
  () =>
    Math.max(
      TOP,
      ...outs.value.map(o => o.y + PORT_H),
      ...ins.value.map(o => o.y + PORT_H),
      ...units.value.map(u => u.y + u.height)
    ) + 24
)

interface Jack extends Plug {
  key: string
  x: number
  y: number
}
const jacks = computed<Jack[]>(() => [
  ...outs.value.map(({ p, y }) => ({
    key: `p${p.id}`,
    side: 'from' as const,
    x: 12 + PORT_W,
    y: y + PORT_H / 2,
    end: { port: p.id },
    name: p.name
  })),
  ...ins.value.map(({ p, y }) => ({
    key: `p${p.id}`,
    side: 'to' as const,
    x: width.value - 12 - PORT_W,
    y: y + PORT_H / 2,
    end: { port: p.id },
    name: p.name
  })),
  ...units.value.flatMap(({ u, model, y }) => [
    ...(model?.inputs ?? []).map((name, i) => ({
      key: `i${u.id}:${i}`,
      side: 'to' as const,
      x: unitX.value,
      y: y + UNIT_HEAD + i * JACK_H + JACK_H / 2,
      end: { unit: u.id, jack: i },
      name: `${u.name} ${name}`
    })),
    ...(model?.outputs ?? []).map((name, i) => ({
      key: `o${u.id}:${i}`,
      side: 'from' as const,
      x: unitX.value + unitWidth.value,
      y: y + UNIT_HEAD + i * JACK_H + JACK_H / 2,
      end: { unit: u.id, jack: i },
      name: `${u.name} ${name}`
    }))
  ])
])
const byKey = computed(() => new Map(jacks.value.map(j => [j.key, j])))
/** Each cable turns in a lane of its own, so that no two lie on each other. */
const cables = computed(() =>
  rows(store.session!, 'cable')
    .filter(c => c.rig === props.rig)
    .map((c, i) => {
      const a = byKey.value.get(c.fromPort ? `p${c.fromPort}` : `o${c.fromUnit}:${c.fromJack}`),
        b = byKey.value.get(c.toPort ? `p${c.toPort}` : `i${c.toUnit}:${c.toJack}`)
      if (!a || !b) return null
      const toUnit = !c.toPort,
        room =
          (toUnit ? unitX.value : width.value - 12 - PORT_W) -
          (c.fromPort ? 12 + PORT_W : unitX.value + unitWidth.value)
      const lane = (((i * 7) % 13) + 1) / 14
      const back = !c.fromPort && toUnit
      const x = back ? Math.max(a.x, unitX.value + unitWidth.value) + 14 : a.x + room * lane
      const path = back
        ? `M${a.x} ${a.y} H${x} V${a.y + 16} H${b.x - 14} V${b.y} H${b.x}`
        : `M${a.x} ${a.y} H${x} V${b.y} H${b.x}`
      const lit = props.open !== null && litLoop.value.has(c.id)
      return { c, path, lit, name: `${a.name} → ${b.name}` }
    })
    .filter(c => c !== null)
)
const litLoop = computed(() => {
  const loop = store.session!.loop[props.open ?? '']
  const on = new Set<string>()
  if (!loop)
    return new Set(
      rows(store.session!, 'cable')
        .filter(c => c.fromUnit === props.open || c.toUnit === props.open)
        .map(c => c.id)
    )
  const open = loop.outPorts.map(p => `p${p}`)
  const all = rows(store.session!, 'cable')
  while (open.length) {
    const node = open.pop()!
    for (const c of all)
      if (node === (c.fromPort ? `p${c.fromPort}` : `u${c.fromUnit}`) && !on.has(c.id)) {
        on.add(c.id)
        open.push(c.toPort ? `p${c.toPort}` : `u${c.toUnit}`)
      }
  }
  return on
})
const carries = computed(() => {
  const s = store.session!,
    text = new Map<string, string>()
  const add = (port: string, what: string) => text.set(port, [...(text.get(port)?.split(', ') ?? []), what].join(', '))
  for (const l of rows(s, 'loop')) {
    l.outPorts.forEach(p => add(p, l.name))
    l.inPorts.forEach(p => add(p, l.name))
  }
  for (const f of rows(s, 'feed')) f.ports.forEach(p => add(p, s.channel[f.from ?? f.to ?? '']?.name ?? ''))
  return text
})

const drawing = shallowRef<{ from: Jack; x: number; y: number } | null>(null)
function begin(e: PointerEvent, from: Jack): void {
  const place = box.value!.getBoundingClientRect()
  const move = (m: PointerEvent) => {
    drawing.value = {
      from,
      x: m.clientX - place.left + box.value!.scrollLeft,
      y: m.clientY - place.top + box.value!.scrollTop
    }
  }
  const up = (m: PointerEvent) => {
    window.removeEventListener('pointermove', move)
    drawing.value = null
    const key = document
      .elementsFromPoint(m.clientX, m.clientY)
      .map(el => (el as HTMLElement).dataset?.jack)
      .find(k => k)
    const to = key ? byKey.value.get(key) : undefined
    if (to && to.side !== from.side) {
      const [a, b] = from.side === 'from' ? [from, to] : [to, from]
      plug(props.rig, a.end, b.end)
    }
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', up, { once: true })
  move(e)
}
function cableKey(e: KeyboardEvent, c: Row<'cable'>): void {
  if (e.key === 'Delete' || e.key === 'Backspace') pull(c)
}
</script>

<template>
  <div ref="box" class="scroll drawing">
    <div class="sheet" :style="{ height: `${height}px`, width: `${width}px` }">
      <span class="caption col" :style="{ left: '12px' }">ports out</span
      ><span class="caption col" :style="{ left: `${unitX}px` }">units</span
      ><span class="caption col" :style="{ left: `${width - 12 - PORT_W}px` }">ports in</span>
      <svg :width="width" :height="height">
        <g
          v-for="c in cables"
          :key="c.c.id"
          class="cable"
          :class="{ lit: c.lit }"
          tabindex="0"
          role="button"
          :aria-label="`cable ${c.name}; Delete removes it`"
          @keydown="cableKey($event, c.c)"
          @dblclick="pull(c.c)"
        >
          <path :d="c.path" class="grip" />
          <path :d="c.path" class="line" />
          <title>{{ c.name }}; double click removes it</title>
        </g>
        <path v-if="drawing" class="line new" :d="`M${drawing.from.x} ${drawing.from.y} L${drawing.x} ${drawing.y}`" />
      </svg>
      <div
        v-for="o in outs"
        :key="o.p.id"
        class="port"
        :style="{ left: '12px', top: `${o.y}px`, width: `${PORT_W}px`, height: `${PORT_H}px` }"
      >
        <span class="clip" :title="carries.get(o.p.id)">{{ o.p.name }}</span><span class="caption clip what">{{
          carries.get(o.p.id) ?? ''
        }}</span
        ><PortMeter class="live" bare :port="o.p.id" />
      </div>
      <div
        v-for="o in ins"
        :key="o.p.id"
        class="port"
        :style="{ left: `${width - 12 - PORT_W}px`, top: `${o.y}px`, width: `${PORT_W}px`, height: `${PORT_H}px` }"
      >
        <span class="clip" :title="carries.get(o.p.id)">{{ o.p.name }}</span><span class="caption clip what">{{
          carries.get(o.p.id) ?? ''
        }}</span
        ><PortMeter class="live" bare :port="o.p.id" />
      </div>
      <div
        v-for="u in units"
        :key="u.u.id"
        class="unit"
        :class="{ open: open === u.u.id, off: !u.u.powered && !u.model?.passive }"
        :style="{ left: `${unitX}px`, top: `${u.y}px`, width: `${unitWidth}px`, height: `${u.height}px` }"
        :data-unit="u.u.id"
      >
        <button class="plain clip unithead" @click="emit('open', u.u.id)">{{ u.u.name }}</button>
        <button
          v-if="!u.model?.passive"
          class="plain caption power"
          :aria-pressed="u.u.powered"
          @click="store.apply('setUnit', { id: u.u.id, fields: { powered: !u.u.powered } })"
        >
          {{ u.u.powered ? 'on' : 'off' }}
        </button>
        <span v-else class="caption power">passive</span>
        <span
          v-for="(n, i) in u.model?.inputs ?? []"
          :key="`i${i}`"
          class="caption jackname"
          :style="{ top: `${UNIT_HEAD + i * JACK_H}px`, left: '10px' }"
          >{{ n }}</span
        >
        <span
          v-for="(n, i) in u.model?.outputs ?? []"
          :key="`o${i}`"
          class="caption jackname"
          :style="{ top: `${UNIT_HEAD + i * JACK_H}px`, right: '10px' }"
          >{{ n }}</span
        >
      </div>
      <button
        v-for="j in jacks"
        :key="j.key"
        class="jack"
        :data-jack="j.key"
        :style="{ left: `${j.x - 6}px`, top: `${j.y - 6}px` }"
        :aria-label="`jack ${j.name}`"
        title="drag to another jack, or press Enter to choose it from a list"
        @pointerdown.left.prevent="begin($event, j)"
        @click="$event.detail === 0 && askCable(rig, j, jacks)"
      />
    </div>
  </div>
</template>

<style scoped>
.drawing {
  flex: 1;
  min-width: 0;
}
.sheet {
  position: relative;
}
.col {
  position: absolute;
  top: 6px;
}
svg {
  position: absolute;
  inset: 0;
}
.line {
  fill: none;
  stroke: var(--ink-3);
  stroke-width: 1.25;
}
.grip {
  fill: none;
  stroke: transparent;
  stroke-width: 9;
  cursor: pointer;
}
.cable:hover .line,
.cable:focus .line {
  stroke: var(--acting);
  stroke-width: 2;
}
.cable:focus {
  outline: none;
}
.cable.lit .line {
  stroke: var(--signal);
  stroke-width: 2.25;
}
.new {
  stroke: var(--acting);
  stroke-width: 2;
}
.port {
  position: absolute;
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0 8px;
  padding: 2px 8px;
  align-items: baseline;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  font-size: 12px;
}
.what {
  text-align: right;
  color: var(--acting);
}
.live {
  grid-column: 1 / 3;
  height: 4px;
}
.unit {
  position: absolute;
  background: var(--raised);
  border: 1px solid var(--ink-3);
  border-radius: var(--radius);
}
.unit.open {
  border-color: var(--acting);
  box-shadow: 0 0 0 1px var(--acting);
}
.unit.off {
  border-style: dashed;
}
.unit.off .unithead {
  color: var(--ink-3);
}
.unithead {
  position: absolute;
  left: 12px;
  top: 4px;
  right: 64px;
  font-weight: 500;
}
.power {
  position: absolute;
  right: 12px;
  top: 6px;
}
.off .power {
  color: var(--wrong);
}
.jackname {
  position: absolute;
  line-height: 20px;
}
.jack {
  position: absolute;
  width: 12px;
  height: 12px;
  padding: 0;
  border-radius: 50%;
  border: 1.5px solid var(--ink-2);
  background: var(--surface);
  cursor: crosshair;
}
.jack:hover {
  border-color: var(--acting);
  background: var(--acting);
}
</style>
