<script setup lang="ts">
import type { ScaleLinear } from 'd3-scale'
import { computed } from 'vue'

import type { Break, Pattern } from '@/api/client'
import type { Point } from '@/ui/drag'
import { count, share } from '@/ui/format'

import * as edits from './pattern'

/** One break in the picture of the day: its block moves, its rim says how many, its side how long. */
const props = defineProps<{
  pattern: Pattern
  pause: Break
  index: number
  x: ScaleLinear<number, number>
  y: ScaleLinear<number, number>
  height: number
}>()
type Edit = (pattern: Pattern) => void
const emit = defineEmits<{
  drag: [event: PointerEvent, edit: (at: Point) => Edit]
  key: [event: KeyboardEvent, edit: (steps: number) => Edit]
  remove: []
}>()

const at = computed(() => edits.breakStart(props.pattern, props.pause))
const left = computed(() => props.x(at.value))
const right = computed(() => props.x(at.value + props.pause.mean_minutes))
const top = computed(() => props.y(props.pause.probability))

/** Where in the block it was taken hold of, so that it does not jump under the hand. */
function dragBlock(event: PointerEvent): void {
  const { index } = props
  let grab: number | null = null
  const begun = at.value
  emit('drag', event, (to) => (pattern) => {
    const minutes = props.x.invert(to.x)
    grab ??= minutes - begun
    edits.moveBreak(pattern, index, minutes - grab)
  })
}
function blockKey(event: KeyboardEvent): void {
  if (event.key === 'Delete') {
    event.preventDefault()
    return emit('remove')
  }
  emit('key', event, (n) => (p) => edits.moveBreak(p, props.index, at.value + n * 5))
}
</script>

<template>
  <g>
    <g
      class="grip"
      tabindex="0"
      role="slider"
      data-testid="break"
      :aria-label="`Break ${index + 1} begins; Delete removes it`"
      :aria-valuenow="Math.round(at)"
      :aria-valuetext="edits.clockOf(at)"
      @pointerdown="dragBlock"
      @keydown="blockKey"
    >
      <rect
        :x="left"
        :y="top"
        :width="Math.max(right - left, 2)"
        :height="height - top"
        class="block"
      />
      <text :x="(left + right) / 2" :y="height - 6" class="tag">
        {{ edits.clockOf(at) }} · {{ count(pause.mean_minutes) }} min
      </text>
    </g>
    <g
      class="grip up"
      tabindex="0"
      role="slider"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-label="`Share of people who take break ${index + 1}`"
      :aria-valuenow="Math.round(pause.probability * 100)"
      :aria-valuetext="share(pause.probability)"
      @pointerdown="emit('drag', $event, (to) => (p) => edits.takeBreak(p, index, y.invert(to.y)))"
      @keydown="
        emit('key', $event, (n) => (p) => edits.takeBreak(p, index, pause.probability + n / 100))
      "
    >
      <line :x1="left" :x2="right" :y1="top" :y2="top" class="rim" />
      <rect
        :x="left"
        :y="top - 6"
        :width="Math.max(right - left - 7, 2)"
        height="12"
        class="catch"
      />
      <text :x="(left + right) / 2" :y="top - 4" class="tag">
        {{ count(pause.probability * 100) }} %
      </text>
    </g>
    <g
      class="grip side"
      tabindex="0"
      role="slider"
      :aria-label="`Length of break ${index + 1}`"
      :aria-valuenow="pause.mean_minutes"
      :aria-valuetext="`${count(pause.mean_minutes)} minutes`"
      @pointerdown="
        emit('drag', $event, (to) => (p) => edits.stretchBreak(p, index, x.invert(to.x) - at))
      "
      @keydown="
        emit('key', $event, (n) => (p) => edits.stretchBreak(p, index, pause.mean_minutes + n * 5))
      "
    >
      <line :x1="right" :x2="right" :y1="top" :y2="height" class="rim" />
      <rect :x="right - 4" :y="top" width="10" :height="height - top" class="catch" />
    </g>
  </g>
</template>

<style scoped src="./day.css"></style>
