<script setup lang="ts">
// A strip in its place on the Map. It is told nothing but whose it is: a Map that is drawn anew leaves it alone.
import { computed, getCurrentScope, inject, onBeforeUnmount, onMounted, provide } from 'vue'
import { MAP } from './mapHands'
import { BELOW_WIDTH } from './mapPlaces'
import { RESTS, type Scope } from './resting'

const props = defineProps<{ id: string }>()
const { places, resting, dimmed, checked, pick, open, unfold, draw } = inject(MAP)!
/** None in the row of returns. */
const strip = computed(() => places.strips.value.get(props.id))
const members = computed(() => strip.value?.members)
const width = computed(() => (strip.value ? places.widthOf(strip.value.column) : BELOW_WIDTH))
const own = computed(() => members.value ?? [props.id])

const scopes: Scope[] = [getCurrentScope()!]
provide(RESTS, scope => scopes.push(scope))
let leave: (() => void) | undefined
// The row of returns is always in sight.
onMounted(() => (leave = strip.value && resting.take(props.id, scopes)))
onBeforeUnmount(() => leave?.())
</script>

<template>
  <ChannelStrip
    :id="id"
    :width="width"
    :count="strip?.count"
    :members="members"
    :checked="checked(id)"
    :dimmed="dimmed(own)"
    @pick="pick({ id, members }, $event)"
    @unfold="unfold(id)"
    @open="open(id)"
    @draw="draw($event, id)"
  />
</template>
