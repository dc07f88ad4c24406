<script setup lang="ts">
import type { LinearScale } from '@/chart/scale'
import { computed } from 'vue'

import type { Break, Pattern, PatternAnswer } from '@/api/client'
import ChartHandle from '@/chart/ChartHandle.vue'
import { count, share } from '@/ui/format'

import * as edits from './pattern'

/** One break in the picture of the day: its block moves, its rim says how many, its side how long. */
const props = defineProps<{
  /** Where the day stood when the break was taken hold of. */
  day: edits.PatternDay
  /** Where the break begins, and between what it may; of a new one neither is known yet. */
  at: number | null
  room: PatternAnswer['breaks'][number] | undefined
  pause: Break
  index: number
  x: LinearScale
  y: LinearScale
  height: number
}>()
const emit = defineEmits<{
  change: [edit: (pattern: Pattern) => void, done: boolean]
  cancel: []
}>()

const at = computed(() => props.at ?? 0)
const left = computed(() => props.x(at.value))
const right = computed(() => props.x(at.value + props.pause.mean_minutes))
const top = computed(() => props.y(props.pause.probability))

function key(event: KeyboardEvent): void {
  if (event.key !== 'Delete') return
  event.preventDefault()
  emit('change', (pattern) => pattern.breaks.splice(props.index, 1), true)
}
</script>

<template>
  <g v-if="room && props.at !== null">
    <ChartHandle
      data-testid="break"
      :label="`Break ${index + 1} begins; Delete removes it`"
      :text="edits.clockOf(at)"
      :value="Math.round(at)"
      :min="room.earliest"
      :max="room.latest"
      :step="5"
      :page="30"
      :value-at="(to) => x.invert(to.x)"
      :place-of="x"
      @move="
        (minutes, done) => emit('change', (p) => edits.moveBreak(p, day, index, minutes), done)
      "
      @cancel="emit('cancel')"
      @key="key"
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
    </ChartHandle>
    <ChartHandle
      upright
      :label="`Share of people who take break ${index + 1}`"
      :text="share(pause.probability)"
      :value="Math.round(pause.probability * 100)"
      :min="0"
      :max="100"
      :value-at="(to) => y.invert(to.y) * 100"
      :place-of="(percent) => y(percent / 100)"
      @move="
        (percent, done) => emit('change', (p) => edits.takeBreak(p, index, percent / 100), done)
      "
      @cancel="emit('cancel')"
    >
      <line :x1="left" :x2="right" :y1="top" :y2="top" class="rail" />
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
    </ChartHandle>
    <ChartHandle
      :label="`Length of break ${index + 1}`"
      :text="`${count(pause.mean_minutes)} minutes`"
      :value="pause.mean_minutes"
      :min="5"
      :max="edits.boundsOf('breaks.mean_minutes').high"
      :step="5"
      :page="30"
      :value-at="(to) => x.invert(to.x) - at"
      :place-of="(minutes) => x(at + minutes)"
      @move="
        (minutes, done) => emit('change', (p) => edits.stretchBreak(p, day, index, minutes), done)
      "
      @cancel="emit('cancel')"
    >
      <line :x1="right" :x2="right" :y1="top" :y2="height" class="rail" />
      <rect :x="right - 4" :y="top" width="10" :height="height - top" class="catch" />
    </ChartHandle>
  </g>
</template>

<style scoped>
.block {
  fill: var(--paper);
  fill-opacity: 0.55;
}
.handle:focus-visible .block {
  stroke: var(--focus);
  stroke-width: 2;
}
</style>
