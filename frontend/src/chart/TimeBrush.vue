<script setup lang="ts">
import { computed, shallowRef } from 'vue'

import { useFrame } from './frame'
import { drag } from './handle'
import type { LinearScale } from './scale'
import { between, type Timeframe } from './timeframe'

/** The axis as a brush: drag over the stretch to look at; twice pressed it shows the whole again. */
const props = defineProps<{
  frame: Timeframe
  x: LinearScale
  width: number
  y: number
  height: number
  /** An instant on the clock. */
  say: (instant: number) => string
}>()

const picture = useFrame()
/** What the hand has brushed over so far. */
const brushed = shallowRef<[begun: number, now: number] | null>(null)
const view = computed(() => props.frame.view.value)
const box = computed(() => {
  if (!brushed.value) return null
  const [one, other] = brushed.value.map((at) => props.x(at)) as [number, number]
  return { x: Math.min(one, other), width: Math.abs(one - other) }
})
const MINUTE = 60

function press(event: PointerEvent): void {
  const begun = props.x.invert(picture.pointAt(event).x)
  const { from, to } = view.value
  drag(event, {
    pointAt: picture.pointAt,
    valueAt: (at) => props.x.invert(at.x),
    range: { value: begun, min: from, max: to, step: MINUTE, page: MINUTE },
    move: (now, done) => {
      brushed.value = done ? null : [begun, now]
      if (done && Math.abs(now - begun) >= MINUTE)
        props.frame.look((_, whole) => between(begun, now, whole))
    },
    cancel: () => (brushed.value = null),
  })
}
function key(event: KeyboardEvent): void {
  const part = (view.value.to - view.value.from) / 4
  const acts: Record<string, () => void> = {
    '+': () => props.frame.zoom(0.5),
    '=': () => props.frame.zoom(0.5),
    '-': () => props.frame.zoom(2),
    ArrowLeft: () => props.frame.pan(-part),
    ArrowRight: () => props.frame.pan(part),
    Home: () => props.frame.showAll(),
  }
  const act = acts[event.key]
  if (!act) return
  act()
  event.preventDefault()
}
const shown = computed(() => `${props.say(view.value.from)} to ${props.say(view.value.to)}`)
</script>

<template>
  <g
    class="brush choosable"
    tabindex="0"
    role="application"
    data-testid="brush"
    :aria-label="`Time that is shown: ${shown}. Plus and minus zoom, the arrows move, Home shows all`"
    @pointerdown="press"
    @dblclick="frame.showAll"
    @keydown="key"
  >
    <title>Drag to look closer, press twice for the whole day</title>
    <rect x="0" :y="y" :width="width" :height="height" class="catch" />
    <rect v-if="box" :x="box.x" y="0" :width="box.width" :height="y" class="brushed" />
  </g>
</template>

<style scoped>
.brush.choosable {
  cursor: col-resize;
  touch-action: none;
}
.brushed {
  fill: var(--ink);
  fill-opacity: 0.1;
  stroke: var(--ink);
  pointer-events: none;
}
</style>
