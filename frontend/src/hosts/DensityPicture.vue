<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'

import type { SizeModel } from '@/api/client'
import { follow, stepsOf } from '@/ui/drag'
import { count } from '@/ui/format'

import { curvesOf, namesOf, RESOURCE_NAMES } from './density'

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

const longest = computed(() => props.size.hosts.length)
const x = computed(() =>
  scaleLinear()
    .domain([0, longest.value])
    .range([0, Math.max(props.width - LEFT - RIGHT, 60)]),
)
const y = computed(() =>
  scaleLinear()
    .domain([0, TOP_SHARE])
    .range([props.height - TOP - BOTTOM, 0]),
)
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

function set(sessions: number, done: boolean): void {
  emit('limit', Math.max(1, Math.min(Math.round(sessions), longest.value)), done)
}
function drag(event: PointerEvent): void {
  if (props.fixed) return
  follow(
    event,
    { x: LEFT, y: TOP },
    (at, done) => set(x.value.invert(at.x), done),
    () => emit('cancel'),
  )
}
function key(event: KeyboardEvent): void {
  const steps = stepsOf(event)
  if (steps === undefined || props.fixed) return
  event.preventDefault()
  set(props.limit + steps, true)
}
</script>

<template>
  <svg
    :width="width"
    :height="height"
    class="density"
    role="group"
    :aria-label="`Host size ${size.id}`"
  >
    <defs>
      <pattern
        id="over"
        width="7"
        height="7"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" y2="7" class="hatch" />
      </pattern>
    </defs>
    <g :transform="`translate(${LEFT} ${TOP})`">
      <rect
        :x="x(Math.min(size.sessions, longest))"
        y="0"
        :width="Math.max(x(longest) - x(Math.min(size.sessions, longest)), 0)"
        :height="y(0)"
        fill="url(#over)"
        aria-hidden="true"
      />
      <rect
        v-if="size.high > size.low"
        :x="x(Math.min(size.low, longest))"
        y="0"
        :width="x(Math.min(size.high, longest)) - x(Math.min(size.low, longest))"
        :height="y(0)"
        class="unsure"
      >
        <title>As sure as it is measured: {{ size.low }} to {{ size.high }} sessions</title>
      </rect>
      <g aria-hidden="true">
        <g v-for="level in [0, 0.25, 0.5, 0.75, 1, 1.25]" :key="level">
          <line
            x1="0"
            :x2="x(longest)"
            :y1="y(level)"
            :y2="y(level)"
            :class="level === 1 ? 'mark' : 'level'"
          />
          <text x="-8" :y="y(level) + 4" class="axis end">{{ count(level * 100) }} %</text>
        </g>
        <text
          v-for="n in x.ticks(Math.min(8, longest)).filter(Number.isInteger)"
          :key="n"
          :x="x(n)"
          :y="y(0) + 16"
          class="axis mid"
        >
          {{ n }}
        </text>
        <text :x="x(longest)" :y="y(0) + 30" class="axis end">sessions on one host</text>
        <text x="4" :y="y(1) - 5" class="axis">what a host may bear</text>
      </g>
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
          class="name"
          :class="{ first: curve.resource === size.binding, mid: names[k]?.above }"
        >
          {{ RESOURCE_NAMES[curve.resource] }} {{ curve.binds === null ? '' : curve.binds }}
        </text>
      </g>
      <g
        class="post"
        :class="{ beyond, fixed }"
        :tabindex="fixed ? undefined : 0"
        :role="fixed ? undefined : 'slider'"
        data-testid="limit"
        aria-label="Session limit"
        aria-valuemin="1"
        :aria-valuemax="longest"
        :aria-valuenow="limit"
        :aria-valuetext="`${limit} sessions, ${needed} hosts for the peak`"
        @pointerdown="drag"
        @keydown="key"
      >
        <rect :x="limitAt - 9" y="-14" width="18" :height="y(0) + 34" class="catch" />
        <line :x1="limitAt" :x2="limitAt" y1="-22" :y2="y(0)" class="pole" />
        <path :d="`M${limitAt - 6} -32h12v7l-6 6l-6-6z`" class="grip" />
        <text
          :x="limitAt + (limitAt > x(longest) * 0.7 ? -11 : 11)"
          y="-23"
          class="tag"
          :class="limitAt > x(longest) * 0.7 ? 'end' : ''"
        >
          limit {{ limit }} · {{ count(needed) }} hosts
        </text>
      </g>
    </g>
  </svg>
</template>

<style scoped>
.density {
  display: block;
}
.level {
  stroke: var(--hair);
}
.mark {
  stroke: var(--brass-line);
  stroke-width: 2;
}
.axis {
  font-size: 11.5px;
  fill: var(--ink-quiet);
}
.end {
  text-anchor: end;
}
.mid {
  text-anchor: middle;
}
.hatch {
  stroke: var(--buoy);
  stroke-width: 1;
  opacity: 0.28;
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
.name {
  font-size: 12px;
  fill: var(--ink-quiet);
}
.name.first {
  fill: var(--ink);
  font-weight: 650;
}
.post {
  cursor: ew-resize;
  outline: none;
}
.post.fixed {
  cursor: default;
}
.catch {
  fill: transparent;
}
.pole {
  stroke: var(--brass-line);
  stroke-width: 2;
}
.grip {
  fill: var(--brass-wash);
  stroke: var(--brass-line);
  stroke-width: 1.5;
}
.post:focus-visible .grip {
  stroke: var(--focus);
  stroke-width: 3;
}
.beyond .pole,
.beyond .grip {
  stroke: var(--buoy);
}
.tag {
  font-size: 12.5px;
  font-weight: 650;
  fill: var(--ink);
}
</style>
