<script setup lang="ts">
import type { LinearScale } from '@/chart/scale'

import ChartHandle from '@/chart/ChartHandle.vue'
import { clock } from '@/ui/format'

import type { DayTarget, TargetMark } from './targets'

/** Targets as posts in the picture: by when (its foot), and how many hosts (its rope). */
const STEP = 300

defineProps<{
  marks: readonly TargetMark[]
  /** Where their texts stand. */
  texts: readonly number[]
  x: LinearScale
  y: LinearScale
  height: number
  /** Sessions on one host, hosts at the most. */
  limit: number
  most: number
  /** Whether the times are those of other pools too, and stay. */
  fixed: boolean
}>()
const emit = defineEmits<{
  time: [target: DayTarget, instant: number, done: boolean]
  hosts: [target: DayTarget, hosts: number, done: boolean]
  cancel: []
}>()
</script>

<template>
  <g v-for="(mark, k) in marks" :key="mark.target.key" data-testid="target-handles">
    <ChartHandle
      upright
      data-testid="target-hosts"
      :label="`Hosts ready by ${clock(mark.target.at, mark.target.zone)}`"
      :text="`${mark.target.hosts} hosts`"
      :value="mark.target.hosts"
      :min="0"
      :max="Math.max(most, mark.target.hosts)"
      :disabled="mark.target.target.share > 0"
      :value-at="(at) => y.invert(at.y) / limit"
      :place-of="(hosts) => y(hosts * limit)"
      @move="(hosts, done) => emit('hosts', mark.target, hosts, done)"
      @cancel="emit('cancel')"
    >
      <path :d="`M${mark.left} ${mark.top}H${mark.right}`" class="rail rope" />
      <rect
        :x="mark.left - 4"
        :y="mark.top - 6"
        :width="mark.right - mark.left + 4"
        height="12"
        class="catch"
      />
      <circle :cx="mark.left" :cy="mark.top" r="5.5" class="grip" />
    </ChartHandle>
    <ChartHandle
      data-testid="target-time"
      :label="`${mark.target.hosts} hosts ready by`"
      :text="clock(mark.target.at, mark.target.zone)"
      :value="mark.target.at"
      :min="mark.target.earliest"
      :max="mark.target.latest"
      :step="STEP"
      :page="6 * STEP"
      :disabled="fixed"
      :value-at="(at) => x.invert(at.x)"
      :place-of="x"
      @move="(instant, done) => emit('time', mark.target, instant, done)"
      @cancel="emit('cancel')"
    >
      <path :d="`M${mark.left} ${mark.top + 6}V${height}`" class="rail post" />
      <rect
        :x="mark.left - 6"
        :y="mark.top + 7"
        width="12"
        :height="Math.max(height - mark.top - 7, 0)"
        class="catch"
      />
      <path :d="`M${mark.left - 7} ${height}v-6h14v6z`" class="grip" />
    </ChartHandle>
    <text
      :x="mark.left + 9"
      :y="texts[k]"
      class="axis-text on-picture"
      :class="{ late: mark.target.late }"
    >
      {{ mark.text }}
    </text>
  </g>
</template>

<style scoped>
.rope {
  stroke-dasharray: 1 2;
  stroke-width: 2;
}
.post {
  stroke-width: 2.2;
}
.late.late {
  fill: var(--buoy);
  font-weight: 650;
}
</style>
