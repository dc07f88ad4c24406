<script setup lang="ts">
import { linear } from '@/chart/scale'
import { computed } from 'vue'

import type { SizeModel } from '@/api/client'
import AcrossAxis from '@/chart/AcrossAxis.vue'
import CanvasLayer from '@/chart/CanvasLayer.vue'
import ChartHandle from '@/chart/ChartHandle.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import type { Ink, Pen } from '@/chart/pen'
import type { Table } from '@/chart/table'
import UpAxis from '@/chart/UpAxis.vue'
import { called } from '@/plan/called'
import { count, counted } from '@/ui/format'

import { curvesOf, namesOf, RESOURCES, RESOURCE_NAMES } from './density'

/**
 * How a host fills as sessions come aboard: one line per resource against the mark that it may
 * bear; the session limit is the brass post, dragged or moved by keys.
 */
const props = defineProps<{
  size: SizeModel
  limit: number
  fixed: boolean
  width: number
  height: number
}>()
const emit = defineEmits<{ limit: [sessions: number, done: boolean]; cancel: [] }>()

const LEFT = 52
const RIGHT = 108
const TOP = 46
const BOTTOM = 34
const TOP_SHARE = 1.4
const BEYOND: Ink = { colour: '--buoy', alpha: 0.28, pattern: 'back', gap: 9 }

const longest = computed(() => props.size.hosts.length)
const x = computed(() => linear([0, longest.value], [0, Math.max(props.width - LEFT - RIGHT, 60)]))
const y = computed(() => linear([0, TOP_SHARE], [props.height - TOP - BOTTOM, 0]))
const curves = computed(() => curvesOf(props.size, TOP_SHARE))
const paths = computed(() =>
  curves.value.map((curve) => {
    const points = [{ n: 0, share: 0 }, ...curve.points]
    const from = curve.points[0]
    // Without sessions a host draws its base: the line begins where it points back to.
    const second = curve.points[1]
    if (from && second) points[0] = { n: 0, share: Math.max(2 * from.share - second.share, 0) }
    return points
      .map((p, k) => `${k ? 'L' : 'M'}${x.value(p.n).toFixed(1)} ${y.value(p.share).toFixed(1)}`)
      .join('')
  }),
)
const names = computed(() =>
  namesOf(
    curves.value.map((curve) => ({ x: x.value(curve.end.n), y: y.value(curve.end.share) })),
    { x: 96, y: 14 },
  ),
)
const limitAt = computed(() => x.value(Math.min(props.limit, longest.value)))
const needed = computed(
  () => props.size.hosts[Math.min(Math.max(props.limit, 1), longest.value) - 1] ?? 0,
)
const beyond = computed(() => props.limit > props.size.sessions)

const levels = [0, 0.25, 0.5, 0.75, 1, 1.25].map((at) => ({ at, text: `${count(at * 100)} %` }))
const counts = computed(() =>
  x.value
    .ticks(Math.min(8, longest.value))
    .filter(Number.isInteger)
    .map((at) => ({ at, text: String(at) })),
)
const full = computed(() => x.value(Math.min(props.size.sessions, longest.value)))
const ground = computed(() => y.value(0))
/** What is beyond what a host bears, hatched. */
const draw = computed(() => {
  const [from, to, deep] = [full.value, x.value(longest.value), ground.value]
  return (pen: Pen) => pen.box(from, 0, Math.max(to - from, 0), deep, BEYOND)
})
const table = (): Table => ({
  head: ['sessions', ...RESOURCES.map((name) => RESOURCE_NAMES[name]), 'hosts for the peak'],
  rows: props.size.hosts.map((hosts, k) => [
    k + 1,
    ...RESOURCES.map((name) => props.size.curves[name]?.[k] ?? null),
    hosts,
  ]),
})
</script>

<template>
  <ChartPicture
    :name="`host size ${size.id}`"
    :label="`Host size ${called('sizes', size.id)}`"
    :width="width"
    :height="height"
    :left="LEFT"
    :top="TOP"
    :table="table"
  >
    <rect
      v-if="size.high > size.low"
      :x="x(Math.min(size.low, longest))"
      y="0"
      :width="x(Math.min(size.high, longest)) - x(Math.min(size.low, longest))"
      :height="ground"
      class="unsure"
    >
      <title>As sure as it is measured: {{ size.low }} to {{ size.high }} sessions</title>
    </rect>
    <UpAxis :ticks="levels" :y="y" :width="x(longest)" title="" />
    <AcrossAxis :ticks="counts" :x="x" :width="x(longest)" :y="ground" />
    <template #canvas>
      <CanvasLayer :x="LEFT" :y="TOP" :width="x(longest)" :height="ground" :draw="draw" />
    </template>
    <template #over>
      <line x1="0" :x2="x(longest)" :y1="y(1)" :y2="y(1)" class="bearing" />
      <text :x="x(longest)" :y="ground + 30" class="axis-text end">sessions on one host</text>
      <text x="4" :y="y(1) - 5" class="axis-text">what a host may bear</text>
      <g v-for="(curve, k) in curves" :key="curve.resource" data-testid="curve">
        <path :d="paths[k]" class="curve" :class="{ first: curve.resource === size.binding }" />
        <circle
          v-if="curve.binds !== null && curve.binds <= longest"
          :cx="x(curve.binds)"
          :cy="y(size.curves[curve.resource]?.[curve.binds - 1] ?? 0)"
          :r="curve.binds > 0 ? 3.5 : 0"
          class="dot"
        />
        <text
          :x="(names[k]?.x ?? 0) + (names[k]?.above ? 0 : 8)"
          :y="names[k]?.above ? -6 : (names[k]?.y ?? 0) + 4"
          class="axis-text name"
          :class="{ first: curve.resource === size.binding, middle: names[k]?.above }"
        >
          {{ RESOURCE_NAMES[curve.resource] }} {{ curve.binds === null ? '' : curve.binds }}
        </text>
      </g>
      <ChartHandle
        :class="{ beyond }"
        :disabled="fixed"
        data-testid="limit"
        label="Session limit"
        :text="`${limit} sessions, ${needed} hosts for the peak`"
        :value="limit"
        :min="1"
        :max="longest"
        :value-at="(at) => x.invert(at.x)"
        :place-of="(sessions) => x(Math.min(sessions, longest))"
        @move="(sessions, done) => emit('limit', sessions, done)"
        @cancel="emit('cancel')"
      >
        <rect :x="limitAt - 9" y="-14" width="18" :height="ground + 34" class="catch" />
        <line :x1="limitAt" :x2="limitAt" y1="-22" :y2="ground" class="pole" />
        <path :d="`M${limitAt - 6} -32h12v7l-6 6l-6-6z`" class="grip" />
        <text
          :x="limitAt + (limitAt > x(longest) * 0.7 ? -11 : 11)"
          y="-23"
          class="tag limit"
          :class="limitAt > x(longest) * 0.7 ? 'to' : ''"
        >
          limit {{ limit }} · {{ counted(needed, 'host') }}
        </text>
      </ChartHandle>
    </template>
  </ChartPicture>
</template>

<style scoped>
.bearing {
  stroke: var(--brass-line);
  stroke-width: 2;
}
.unsure {
  fill: var(--brass-wash);
  opacity: 0.55;
}
.curve {
  fill: none;
  stroke: var(--water-2);
  stroke-width: 1.6;
}
.curve.first {
  stroke: var(--water-1);
  stroke-width: 3;
}
.dot {
  fill: var(--paper-raised);
  stroke: var(--water-1);
  stroke-width: 2;
}
.axis-text.name {
  font-size: 12px;
}
.axis-text.name.first {
  fill: var(--ink);
  font-weight: 650;
}
.pole {
  stroke: var(--brass-line);
  stroke-width: 2;
}
.handle .grip {
  fill: var(--brass-wash);
  stroke: var(--brass-line);
  stroke-width: 1.5;
}
.beyond .pole,
.beyond .grip {
  stroke: var(--buoy);
}
.handle .tag.limit {
  font-size: 12.5px;
  font-weight: 650;
  text-anchor: start;
}
.handle .tag.limit.to {
  text-anchor: end;
}
</style>
