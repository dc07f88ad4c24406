<script setup lang="ts">
import type { LinearScale } from '@/chart/scale'
import { computed } from 'vue'

import ChartHandle from '@/chart/ChartHandle.vue'
import { PLAN } from '@/plan/lens'
import { clock, share } from '@/ui/format'

import type { BandHandle } from './handles'

/** Band edges, floors and fill ceilings as handles in the chart, for mouse and keyboard. */
/** Bands begin at steps of five minutes. */
const STEP = 300

const props = defineProps<{
  handles: readonly BandHandle[]
  /** Where the texts of floors and ceilings stand. */
  floorTexts: readonly number[]
  ceilingTexts: readonly number[]
  selected: number
  x: LinearScale
  y: LinearScale
  height: number
  /** Sessions on one host, hosts at the most. */
  limit: number
  most: number
  zone: string
  /** Whether the edges are those of other pools too, and stay. */
  fixed: boolean
}>()
const emit = defineEmits<{
  select: [index: number]
  edge: [index: number, instant: number, done: boolean]
  floor: [index: number, hosts: number, done: boolean]
  ceiling: [index: number, share: number, done: boolean]
  split: [index: number]
  remove: [index: number]
  cancel: []
}>()

/** Between which values a fill ceiling may be, in per cent. */
const ceiling = computed(() => {
  const { low = 0, high = 1 } = PLAN.field('schedules.day_types.bands.fill_ceiling').bounds
  return { low: low * 100, high: high * 100 }
})
/** All that a band's handles are drawn from: while one moves, the others are left as they are. */
function places(h: BandHandle) {
  const { left, right, floorY, ceilingY, base, floorText, ceilingText, band } = h
  return [left, right, floorY, ceilingY, base, floorText, ceilingText, band.earliest, band.latest]
}
function key(event: KeyboardEvent, index: number): void {
  if (props.fixed) return
  if (event.key === 'Insert' || event.key === '+') emit('split', index)
  else if (event.key === 'Delete' || event.key === '-') emit('remove', index)
  else return
  event.preventDefault()
}
</script>

<template>
  <g
    v-for="(h, k) in handles"
    :key="h.band.key"
    v-memo="[
      ...places(h),
      floorTexts[k],
      ceilingTexts[k],
      k === selected,
      x,
      y,
      height,
      limit,
      most,
      zone,
      fixed,
    ]"
    :class="{ chosen: k === selected }"
    data-testid="band-handles"
  >
    <ChartHandle
      v-if="k > 0"
      data-testid="edge"
      :label="`Band ${k + 1} begins`"
      :text="clock(h.band.start, zone)"
      :value="h.band.start"
      :min="h.band.earliest"
      :max="h.band.latest"
      :step="STEP"
      :page="6 * STEP"
      :disabled="fixed"
      :value-at="(at) => x.invert(at.x)"
      :place-of="x"
      @take="emit('select', k)"
      @move="(instant, done) => emit('edge', k, instant, done)"
      @cancel="emit('cancel')"
      @key="key($event, k)"
    >
      <line :x1="h.left" :x2="h.left" y1="0" :y2="height" class="rail dotted" />
      <rect :x="h.left - 7" y="0" width="14" :height="height" class="catch" />
      <path :d="`M${h.left - 6} 0h12v9l-6 6l-6 -6z`" class="grip" />
    </ChartHandle>
    <ChartHandle
      upright
      data-testid="floor"
      :label="`Floor of band ${k + 1}, in hosts`"
      :text="`${h.band.band.floor} hosts`"
      :value="h.band.band.floor"
      :min="0"
      :max="Math.max(most, h.band.band.floor)"
      :value-at="(at) => y.invert(at.y) / limit"
      :place-of="(hosts) => y(hosts * limit)"
      @take="emit('select', k)"
      @move="(hosts, done) => emit('floor', k, hosts, done)"
      @cancel="emit('cancel')"
      @key="key($event, k)"
    >
      <line :x1="h.left + 1" :x2="h.right - 1" :y1="h.floorY" :y2="h.floorY" class="rail" />
      <rect
        :x="h.left"
        :y="h.floorY - 6"
        :width="Math.max(h.right - h.left, 0)"
        height="12"
        class="catch"
      />
      <path :d="`M${h.gripX - 11} ${h.floorY}v-7h22v7z`" class="grip" />
      <text :x="h.gripX" :y="floorTexts[k]" class="tag">{{ h.floorText }}</text>
    </ChartHandle>
    <ChartHandle
      upright
      data-testid="ceiling"
      :label="`Fill ceiling of band ${k + 1}`"
      :text="share(h.band.band.fill_ceiling)"
      :value="Math.round(h.band.band.fill_ceiling * 100)"
      :min="ceiling.low"
      :max="ceiling.high"
      :value-at="(at) => (y.invert(at.y) / h.base) * 100"
      :place-of="(percent) => y((percent / 100) * h.base)"
      @take="emit('select', k)"
      @move="(percent, done) => emit('ceiling', k, percent / 100, done)"
      @cancel="emit('cancel')"
      @key="key($event, k)"
    >
      <line
        :x1="h.ceilingX - 26"
        :x2="h.ceilingX + 26"
        :y1="h.ceilingY"
        :y2="h.ceilingY"
        class="rail dashed"
      />
      <rect :x="h.ceilingX - 26" :y="h.ceilingY - 6" width="52" height="12" class="catch" />
      <path :d="`M${h.ceilingX - 8} ${h.ceilingY}h16l-8 8z`" class="grip" />
      <text :x="h.ceilingX" :y="ceilingTexts[k]" class="tag">{{ h.ceilingText }}</text>
    </ChartHandle>
  </g>
</template>

<style scoped>
.chosen .grip {
  fill: var(--brass);
}
.dotted {
  stroke-dasharray: 2 3;
}
.dashed {
  stroke-dasharray: 5 3;
}
</style>
