<script setup lang="ts">
// The signal drawing of a room: ruled, right-angled. Cables are plugged by dragging from a jack to another.
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { alongCables, cableFrom, endName, plugOver } from '@nullet/core/graph/cables'
import { portsOfRig } from '@nullet/core/propose/outputs'
import { UNITS } from '@nullet/core/rig/units'
import { byOrder, rows } from '@nullet/core/session/session'
import type { Row } from '@nullet/core/session/rows'
import { useSession } from '~/stores/session'
import { useTransport } from '~/stores/transport'
import { bundlesOf, crossingsOf, routesIn } from './cableRoutes'
import { useRigGestures } from './rigGestures'
import { JACK_H, MARGIN, PORT_H, PORT_W, UNIT_HEAD, placesOf, type Jack } from './roomPlaces'

const props = defineProps<{ rig: string; open: string | null; loop: string | null }>()
const emit = defineEmits<{ open: [id: string] }>()
const store = useSession(),
  transport = useTransport()
const { plug, pull, askCable } = useRigGestures()
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

const opened = ref<ReadonlySet<string>>(new Set())
const units = computed(() =>
  rows(store.session!, 'unit')
    .filter(u => u.rig === props.rig)
    .sort(byOrder)
    .map(unit => ({ unit, model: UNITS[unit.model] }))
)
const bundles = computed(() => {
  const s = store.session!
  const mine = rows(s, 'cable').filter(c => c.rig === props.rig && !c.inside)
  return bundlesOf(mine, port => s.port[port]?.interface ?? '', opened.value)
})
const places = computed(() => {
  const ids = units.value.map(u => u.unit.id),
    ports = (direction: 'out' | 'in') => portsOfRig(store.session!, props.rig, direction)
  return placesOf(width.value, ports('out'), ports('in'), units.value, crossingsOf(bundles.value.drawn, ids))
})
const routes = computed(() => routesIn(places.value, bundles.value.drawn))
/** A bundle is opened and closed by the number of its cables, which stands on the first of them. */
const counts = computed(() =>
  bundles.value.all.flatMap(bundle => {
    const route = routes.value.find(r => r.bundle.from === bundle.from && r.bundle.to === bundle.to)
    return route ? [{ bundle, at: route.label, isOpen: opened.value.has(bundle.key) }] : []
  })
)
/** What a player plays. */
const playedBy = ({ plays, model }: Row<'unit'>) =>
  UNITS[model]?.plays ? (store.session!.medium[plays ?? '']?.name ?? 'plays nothing') : undefined
const ownerName = (id: string) => (store.session!.unit[id] ?? store.session!.interface[id])?.name ?? ''
function toggle(key: string): void {
  const next = new Set(opened.value)
  if (!next.delete(key)) next.add(key)
  opened.value = next
}
/** Cables of the unit or port that is open, and all on the way of the loop that is. */
const lit = computed(() => {
  const s = store.session!
  const loop = s.loop[props.loop ?? '']
  const reached = loop ? alongCables(s, loop.outPorts) : null
  const touches = (c: Row<'cable'>) =>
    props.open !== null && [c.id, c.fromUnit, c.toUnit, c.fromPort, c.toPort].includes(props.open)
  return new Set(
    rows(s, 'cable')
      .filter(c => touches(c) || reached?.has(cableFrom(c)))
      .map(c => c.id)
  )
})
/** Normalled connections that a plug opens. */
const opens = computed(() => {
  const s = store.session!
  return new Set(rows(s, 'cable').flatMap(c => (plugOver(s, c) ? [c.id] : [])))
})
const carries = computed(() => {
  const s = store.session!,
    text = new Map<string, string>()
  const add = (port: string, what: string) => text.set(port, [...(text.get(port)?.split(', ') ?? []), what].join(', '))
  // What it carries before what it is meant for.
  for (const f of rows(s, 'feed')) f.ports.forEach(p => add(p, s.channel[f.from ?? f.to ?? '']?.name ?? ''))
  for (const c of rows(s, 'cable')) {
    if (c.inside && c.toPort) add(c.toPort, `${endName(s, c, 'from')} by itself`)
  }
  for (const l of rows(s, 'loop')) {
    l.outPorts.forEach(p => add(p, l.name))
    l.inPorts.forEach(p => add(p, l.name))
  }
  return text
})

/** A cable lights while something runs through it: written beside Vue, at the rate of the meters. */
const HEARD_DB = -70
const lines = new Map<string, Element>()
function keepLine(id: string, el: unknown): void {
  if (el instanceof Element) lines.set(id, el)
  else lines.delete(id)
}
const levelIn = (c: Row<'cable'>) =>
  transport.levels.get(c.fromPort ? `port/${c.fromPort}` : `jack/${c.fromUnit}/${c.fromJack}`) ?? -Infinity
watch(
  () => transport.beat,
  () => {
    for (const { bundle, strands } of routes.value) {
      const live = strands.map(({ cable }) => {
        const isLive = levelIn(cable) > HEARD_DB
        lines.get(cable.id)?.classList.toggle('live', isLive)
        return isLive
      })
      lines.get(bundle.key)?.classList.toggle('live', live.includes(true))
    }
  },
  { flush: 'sync' }
)

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
    const to = key ? places.value.jacks.get(key) : undefined
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
  if (e.key === 'Enter') emit('open', c.id)
}
</script>

<template>
  <div ref="box" class="scroll drawing">
    <div class="sheet" :style="{ height: `${places.height}px`, width: `${width}px` }">
      <span class="caption col" :style="{ left: `${MARGIN}px` }">ports out</span
      ><span class="caption col" :style="{ left: `${places.unitX}px` }">units</span
      ><span class="caption col" :style="{ left: `${places.inX}px` }">ports in</span>
      <svg :width="width" :height="places.height">
        <template v-for="r in routes" :key="r.bundle.key">
          <path
            v-if="r.trunk"
            :ref="el => keepLine(r.bundle.key, el)"
            :d="r.trunk"
            class="line trunk"
            :class="{ lit: r.strands.some(s => lit.has(s.cable.id)) }"
          />
          <g
            v-for="strand in r.strands"
            :key="strand.cable.id"
            class="cable"
            :class="{
              lit: lit.has(strand.cable.id),
              turned: strand.cable.inverts,
              normalled: strand.cable.normalled,
              opened: opens.has(strand.cable.id)
            }"
            tabindex="0"
            role="button"
            :aria-label="`cable ${strand.name}; Enter opens it, Delete removes it`"
            @keydown="cableKey($event, strand.cable)"
            @click="emit('open', strand.cable.id)"
          >
            <path :d="strand.path" class="grip" />
            <path :ref="el => keepLine(strand.cable.id, el)" :d="strand.path" class="line" />
            <title>{{ strand.name }}</title>
          </g>
        </template>
        <path v-if="drawing" class="line new" :d="`M${drawing.from.x} ${drawing.from.y} L${drawing.x} ${drawing.y}`" />
      </svg>
      <button
        v-for="c in counts"
        :key="c.bundle.key"
        class="plain num count"
        :class="{ open: c.isOpen }"
        :style="{ left: `${c.at.x}px`, top: `${c.at.y}px` }"
        :aria-expanded="c.isOpen"
        :aria-label="`${c.bundle.cables.length} cables from ${ownerName(c.bundle.from)} to ${ownerName(c.bundle.to)}`"
        :title="c.isOpen ? 'draw them as one' : 'draw them one by one'"
        @click="toggle(c.bundle.key)"
      >
        {{ c.bundle.cables.length }}
      </button>
      <div
        v-for="o in places.ports"
        :key="o.port.id"
        class="port"
        :class="{ open: open === o.port.id }"
        :style="{ left: `${o.x}px`, top: `${o.y}px`, width: `${PORT_W}px`, height: `${PORT_H}px` }"
      >
        <button class="plain clip" :title="carries.get(o.port.id)" @click="emit('open', o.port.id)">
          {{ o.port.name }}</button><span class="caption clip what">{{ carries.get(o.port.id) ?? '' }}</span
        ><PortMeter class="live" bare :port="o.port.id" />
      </div>
      <div
        v-for="u in places.units"
        :key="u.unit.id"
        class="unit"
        :class="{ open: open === u.unit.id, off: !u.unit.powered && !u.model?.passive }"
        :style="{ left: `${places.unitX}px`, top: `${u.y}px`, width: `${places.unitWidth}px`, height: `${u.height}px` }"
        :data-unit="u.unit.id"
      >
        <div class="head">
          <button class="plain clip unithead" :title="u.unit.name" @click="emit('open', u.unit.id)">
            {{ u.unit.name }}
          </button>
          <button
            v-if="!u.model?.passive"
            class="plain caption power"
            :aria-pressed="u.unit.powered"
            @click="store.apply('setUnit', { id: u.unit.id, fields: { powered: !u.unit.powered } })"
          >
            {{ u.unit.powered ? 'on' : 'off' }}
          </button>
          <span v-else class="caption clip power" :title="playedBy(u.unit)">{{ playedBy(u.unit) ?? 'passive' }}</span>
        </div>
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
        v-for="j in places.jacks.values()"
        :key="j.key"
        class="jack"
        :data-jack="j.key"
        :style="{ left: `${j.x - 6}px`, top: `${j.y - 6}px` }"
        :aria-label="`jack ${j.name}`"
        title="drag to another jack, or press Enter to choose it from a list"
        @pointerdown.left.prevent="begin($event, j)"
        @click="$event.detail === 0 && askCable(rig, j, [...places.jacks.values()])"
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
.line.live {
  stroke: var(--signal);
}
.cable.lit .line,
.trunk.lit {
  stroke: var(--signal);
}
.cable.lit .line {
  stroke-width: 2.25;
}
.cable.normalled .line {
  stroke-width: 0.6;
}
.cable.opened .line {
  stroke: var(--rule);
}
.cable.turned .line {
  stroke-dasharray: 5 3;
}
.trunk {
  stroke-width: 4;
}
.count {
  position: absolute;
  min-width: 20px;
  padding: 0 4px;
  transform: translate(-50%, -50%);
  background: var(--surface);
  border: 1px solid var(--ink-3);
  border-radius: var(--radius);
  font-size: 11px;
  line-height: 16px;
  text-align: center;
}
.count.open {
  border-color: var(--acting);
  color: var(--acting);
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
.port.open,
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
.head {
  position: absolute;
  inset: 4px 12px auto;
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.unithead {
  flex: 1 1 auto;
  min-width: 50%;
  font-weight: 500;
}
.power {
  flex: 0 1 auto;
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
