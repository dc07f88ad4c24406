<script setup lang="ts">
import type { LinearScale } from '@/chart/scale'
import { computed, shallowRef } from 'vue'

import type { Flood } from '@/api/client'
import { useFrame } from '@/chart/frame'

import { nearest, scaleOf, waitWords, type Wait } from './waits'

/** The handle of the waits: point at five minutes, or go from one to the next, and ask who. */
const props = defineProps<{
  waits: readonly Wait[]
  floods: readonly Flood[]
  x: LinearScale
  width: number
  top: number
  height: number
  zone: string
}>()
const emit = defineEmits<{ point: [wait: Wait | null]; flood: [start: number, end: number] }>()

const frame = useFrame()
const chosen = shallowRef<Wait | null>(null)
/** The chosen one, or the same five minutes of a week that has come since. */
const at = computed(() => props.waits.find((wait) => wait.at === chosen.value?.at) ?? null)

function choose(wait: Wait | null): void {
  chosen.value = wait
  emit('point', wait)
}
/** Half of how far from a bar, in seconds, the pointer still means it. */
const NEAR = 900
function under(event: MouseEvent): Wait | null {
  return nearest(props.waits, props.x.invert(frame.pointAt(event).x) - 150, NEAR)
}
function open(wait: Wait | null): void {
  if (!wait) return
  const flood = props.floods.find((each) => wait.at >= each.start && wait.at < each.end)
  emit('flood', flood?.start ?? wait.at, flood?.end ?? wait.at + 300)
}
function key(event: KeyboardEvent): void {
  const now = at.value ? props.waits.indexOf(at.value) : -1
  const last = props.waits.length - 1
  const next = { ArrowRight: now + 1, ArrowLeft: now - 1, Home: 0, End: last }[event.key]
  if (next !== undefined) choose(props.waits[Math.max(0, Math.min(next, last))] ?? null)
  else if (event.key === 'Enter' || event.key === ' ') open(at.value ?? props.waits[0] ?? null)
  else return
  event.preventDefault()
}
const told = computed(() => (at.value ? waitWords(at.value, props.zone) : 'Choose with the arrows'))
</script>

<template>
  <g :transform="`translate(0 ${top})`">
    <line x1="0" :x2="width" y1="10.5" y2="10.5" class="level" />
    <text x="-6" y="9" class="axis-text end">waited</text>
    <text x="-6" y="24" class="axis-text end">how long</text>
    <text v-if="!waits.length" x="4" y="26" class="axis-text">Nobody waits on this day.</text>
    <template v-else>
      <text :x="width + 8" y="9" class="axis-text">100 %</text>
      <text :x="width + 8" :y="height" class="axis-text">{{ scaleOf(waits) / 60 }} min</text>
      <g
        class="choosable"
        role="slider"
        tabindex="0"
        data-testid="waits"
        aria-label="Logons that waited: the arrows choose five minutes, Enter tells who and why"
        aria-valuemin="1"
        :aria-valuemax="waits.length"
        :aria-valuenow="at ? waits.indexOf(at) + 1 : 1"
        :aria-valuetext="told"
        @focus="emit('point', at)"
        @blur="choose(null)"
        @pointermove="choose(under($event))"
        @pointerleave="choose(null)"
        @click="open(under($event))"
        @keydown="key"
      >
        <rect x="0" y="-2" :width="width" :height="height + 4" class="catch" />
        <rect
          v-if="at"
          :x="x(at.at) - 2"
          y="-2"
          :width="Math.max(x(at.at + 300) - x(at.at), 1) + 4"
          :height="height + 3"
          class="chosen"
        />
      </g>
    </template>
  </g>
</template>

<style scoped>
.chosen {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
</style>
