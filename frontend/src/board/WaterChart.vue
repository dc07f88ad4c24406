<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref, watch } from 'vue'

import type { Day, WeekAnswer } from '@/api/client'
import { clock, count } from '@/ui/format'

import BandHandles from './BandHandles.vue'
import ChartLayers from './ChartLayers.vue'
import { binsOf, valueAt, type DayBand } from './day'
import { floodsOf, pathsOf, rowsOf, topOf } from './water'

/** The day as water and quay, with the schedule's handles in it. */
const props = defineProps<{
  week: WeekAnswer
  baseline: WeekAnswer | null
  day: Day
  bands: DayBand[]
  selected: number
  width: number
  height: number
  left: number
  right: number
  /** Whether the scale keeps still: something is held, or the week is about to be replaced. */
  still: boolean
}>()
const emit = defineEmits<{
  select: [index: number]
  edge: [index: number, instant: number, done: boolean]
  nudgeEdge: [index: number, minutes: number]
  floor: [index: number, hosts: number, done: boolean]
  ceiling: [index: number, share: number, done: boolean]
  split: [index: number]
  remove: [index: number]
  cancel: []
  flood: [start: number, end: number]
}>()

const TOP = 22
const BOTTOM = 20
const plotWidth = computed(() => Math.max(props.width - props.left - props.right, 50))
const plotHeight = computed(() => props.height - TOP - BOTTOM)
const rows = computed(() => rowsOf(props.week.series, ...binsOf(props.week.series, props.day)))
const ghostRows = computed(() => {
  const base = props.baseline
  const day = base?.days.find((d) => d.weekday === props.day.weekday)
  return base && day ? rowsOf(base.series, ...binsOf(base.series, day)) : null
})

/** The scale does not run from under the hand, and is set once for the week that comes. */
const top = ref(1)
const needed = computed(() => {
  const floors = props.bands.map((b) => b.band.floor * props.week.session_limit)
  return Math.max(topOf(rows.value), ghostRows.value ? topOf(ghostRows.value) : 0, ...floors, 8)
})
watch(
  [needed, () => props.still],
  () => {
    if (!props.still || top.value === 1) top.value = needed.value * 1.12
  },
  { immediate: true },
)

const x = computed(() =>
  scaleLinear().domain([props.day.start, props.day.end]).range([0, plotWidth.value]),
)
const y = computed(() => scaleLinear().domain([0, top.value]).range([plotHeight.value, 0]))
const paths = computed(() => pathsOf(rows.value, x.value, y.value))
const ghost = computed(() => {
  const day = props.baseline?.days.find((d) => d.weekday === props.day.weekday)
  if (!ghostRows.value || !day) return null
  const same = scaleLinear().domain([day.start, day.end]).range([0, plotWidth.value])
  return pathsOf(ghostRows.value, same, y.value)
})
const floods = computed(() =>
  floodsOf(rows.value, (time) => valueAt(props.week.series, props.week.series.waiting_peak, time)),
)
const hours = computed(() => {
  const ticks: { at: number; label: string }[] = []
  for (let t = props.day.start; t <= props.day.end; t += 3600) {
    const label = clock(t, props.week.zone)
    if (Number(label.slice(0, 2)) % 2 === 0) ticks.push({ at: t, label })
  }
  return ticks
})
const levels = computed(() => y.value.ticks(5))

const hostLevels = computed(() =>
  scaleLinear()
    .domain([0, top.value / props.week.session_limit])
    .ticks(5)
    .filter(Number.isInteger),
)

const cursor = ref<number | null>(null)
function hover(event: PointerEvent): void {
  const frame = (event.currentTarget as SVGElement).getBoundingClientRect()
  const at = x.value.invert(event.clientX - frame.left - props.left)
  cursor.value = at >= props.day.start && at < props.day.end ? Math.floor(at / 300) * 300 : null
}
const readout = computed(() => {
  if (cursor.value === null) return null
  const s = props.week.series
  const at = (values: number[]) => valueAt(s, values, cursor.value ?? 0)
  return {
    time: clock(cursor.value, props.week.zone),
    sessions: at(s.active) + at(s.idle) + at(s.disconnected),
    quay: at(s.quay),
    waiting: at(s.waiting_peak),
    x: x.value(cursor.value),
  }
})
const summary = computed(
  () =>
    `Peak of ${count(props.day.peak_sessions)} sessions; up to ` +
    `${count(props.day.peak_waiting)} people wait at once`,
)
</script>

<template>
  <svg
    :width="width"
    :height="height"
    :data-top="TOP"
    class="chart"
    role="group"
    :aria-label="`Water and quay. ${summary}`"
    @pointermove="hover"
    @pointerleave="cursor = null"
  >
    <g class="plot" :data-left="left" :transform="`translate(${left} ${TOP})`">
      <g aria-hidden="true">
        <g v-for="level in levels" :key="level">
          <line x1="0" :x2="plotWidth" :y1="y(level)" :y2="y(level)" class="level" />
          <text x="-8" :y="y(level) + 4" class="axis end">{{ count(level) }}</text>
        </g>
        <g v-for="hosts in hostLevels" :key="`h${hosts}`">
          <line
            :x1="plotWidth"
            :x2="plotWidth + 4"
            :y1="y(hosts * week.session_limit)"
            :y2="y(hosts * week.session_limit)"
            class="tick"
          />
          <text :x="plotWidth + 8" :y="y(hosts * week.session_limit) + 4" class="axis">
            {{ count(hosts) }}
          </text>
        </g>
        <text x="-6" y="-9" class="axis end head">sessions</text>
        <text :x="plotWidth + 8" y="-9" class="axis head">hosts</text>
        <g v-for="tick in hours" :key="tick.at">
          <line
            :x1="x(tick.at)"
            :x2="x(tick.at)"
            :y1="plotHeight"
            :y2="plotHeight + 4"
            class="tick"
          />
          <text :x="x(tick.at)" :y="plotHeight + 16" class="axis middle">{{ tick.label }}</text>
        </g>
      </g>
      <ChartLayers :paths="paths" :ghost="ghost" :height="plotHeight" />
      <line x1="0" :x2="plotWidth" :y1="plotHeight" :y2="plotHeight" class="ground" />
      <g v-if="readout" class="cursor" aria-hidden="true">
        <line :x1="readout.x" :x2="readout.x" y1="0" :y2="plotHeight" />
      </g>
      <BandHandles
        :bands="bands"
        :selected="selected"
        :x="x"
        :y="y"
        :height="plotHeight"
        :limit="week.session_limit"
        :standing="week.hosts"
        :zone="week.zone"
        :quay-at="(t) => valueAt(week.series, week.series.quay, t)"
        @select="emit('select', $event)"
        @edge="(i, t, d) => emit('edge', i, t, d)"
        @nudge-edge="(i, m) => emit('nudgeEdge', i, m)"
        @floor="(i, n, d) => emit('floor', i, n, d)"
        @ceiling="(i, n, d) => emit('ceiling', i, n, d)"
        @split="emit('split', $event)"
        @remove="emit('remove', $event)"
        @cancel="emit('cancel')"
      />
      <g
        v-for="flood in floods"
        :key="flood.start"
        class="flood-mark"
        role="button"
        tabindex="0"
        data-testid="flood"
        :aria-label="`${count(flood.peak)} people wait at ${clock(flood.at, week.zone)}: show them`"
        @click="emit('flood', flood.start, flood.end)"
        @keydown.enter="emit('flood', flood.start, flood.end)"
      >
        <path :d="`M${x(flood.at)} ${y(flood.top)}v-8`" class="stem" />
        <text :x="x(flood.at) + 4" :y="Math.max(y(flood.top) - 6, 2)" class="people">
          {{ count(flood.peak) }} wait
        </text>
      </g>
    </g>
    <text v-if="readout" :x="left + 4" y="13" class="axis">
      {{ readout.time }} · {{ count(readout.sessions) }} sessions · {{ count(readout.quay) }} slots
      <tspan v-if="readout.waiting > 0" class="harm">· {{ count(readout.waiting) }} wait</tspan>
    </text>
  </svg>
</template>

<style scoped>
.chart {
  display: block;
  touch-action: none;
  user-select: none;
}
.axis {
  font-size: 11.5px;
  fill: var(--ink-quiet);
}
.head {
  font-style: italic;
}
.end {
  text-anchor: end;
}
.middle {
  text-anchor: middle;
}
.level {
  stroke: var(--hair);
  stroke-width: 1;
}
.tick,
.ground {
  stroke: var(--ink);
  stroke-width: 1;
}
.cursor line {
  stroke: var(--ink);
  stroke-width: 1;
  opacity: 0.5;
}
.flood-mark {
  cursor: pointer;
}
.stem {
  stroke: var(--buoy);
  stroke-width: 1.5;
}
.people,
.harm {
  fill: var(--buoy);
  font-weight: 650;
}
.people {
  font-size: 12px;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
</style>
