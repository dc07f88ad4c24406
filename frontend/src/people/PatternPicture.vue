<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { area, curveStepAfter } from 'd3-shape'
import { computed, ref, watch } from 'vue'

import type { Pattern, PatternAnswer } from '@/api/client'
import { follow, stepsOf, type Point } from '@/ui/drag'
import { share } from '@/ui/format'

import BreakHandle from './BreakHandle.vue'
import LeavingBar from './LeavingBar.vue'
import * as edits from './pattern'

/** A pattern's working day: drag its start, its end and its breaks; the week answers. */
const props = defineProps<{
  pattern: Pattern
  picture: PatternAnswer | null
  width: number
  height: number
}>()
const emit = defineEmits<{
  change: [edit: (pattern: Pattern) => void, done: boolean]
  cancel: []
}>()

const LEFT = 52
const RIGHT = 96
const TOP = 44
const BOTTOM = 20
const HOUR = 60

const plotWidth = computed(() => Math.max(props.width - LEFT - RIGHT, 60))
const plotHeight = computed(() => props.height - TOP - BOTTOM)
const start = computed(() => edits.startOf(props.pattern))
const end = computed(() => start.value + edits.lengthOf(props.pattern))
const startSd = computed(() =>
  props.pattern.start.kind === 'histogram' ? 0 : props.pattern.start.sd_minutes,
)
const lengthSd = computed(() =>
  props.pattern.length.kind === 'histogram' ? 0 : props.pattern.length.sd_minutes,
)

/** The hours drawn keep still while something is held. */
const span = ref<[number, number]>([0, 24 * HOUR])
const held = ref(false)
watch(
  [() => props.pattern, held],
  () => {
    if (held.value) return
    const [first, last] = edits.reachOf(props.pattern)
    const low = Math.max(Math.floor(first / HOUR - 1) * HOUR, 0)
    const high = Math.ceil(last / HOUR + 1) * HOUR
    span.value = [low, Math.min(Math.max(high, low + 8 * HOUR), 48 * HOUR)]
  },
  { immediate: true },
)
const x = computed(() => scaleLinear().domain(span.value).range([0, plotWidth.value]))
const y = computed(() => scaleLinear().domain([0, 1]).range([plotHeight.value, 0]))
const hours = computed(() => {
  const ticks: number[] = []
  const every = (span.value[1] - span.value[0]) / HOUR > 16 ? 2 : 1
  for (let h = Math.ceil(span.value[0] / HOUR); h <= span.value[1] / HOUR; h += 1) {
    if (h % every === 0) ticks.push(h * HOUR)
  }
  return ticks
})

function curve(values: readonly number[], scale: number): string {
  const step = (props.picture?.step ?? 300) / 60
  const first = Math.floor(span.value[0] / step)
  const last = Math.min(Math.ceil(span.value[1] / step), values.length - 1)
  const places = Array.from({ length: Math.max(last - first + 1, 0) }, (_, k) => first + k)
  return (
    area<number>()
      .x((k) => x.value(k * step))
      .y0(plotHeight.value)
      .y1((k) => y.value((values[k] ?? 0) * scale))
      .curve(curveStepAfter)(places) ?? ''
  )
}
const present = computed(() => curve(props.picture?.present ?? [], 1))
const starting = computed(() => {
  const values = props.picture?.starting ?? []
  return curve(values, 0.3 / Math.max(0.001, ...values))
})
function change(edit: (pattern: Pattern) => void, done: boolean): void {
  held.value = !done
  emit('change', edit, done)
}
function drag(event: PointerEvent, edit: (at: Point) => (pattern: Pattern) => void): void {
  follow(
    event,
    { x: LEFT, y: TOP },
    (at, done) => change(edit(at), done),
    () => {
      held.value = false
      emit('cancel')
    },
  )
}
function key(event: KeyboardEvent, edit: (steps: number) => (pattern: Pattern) => void): void {
  const steps = stepsOf(event)
  if (steps === undefined) return
  event.preventDefault()
  change(edit(steps), true)
}
const minutesAt = (at: Point) => x.value.invert(at.x)
</script>

<template>
  <svg :width="width" :height="height" class="day" role="group" aria-label="A working day">
    <g :transform="`translate(${LEFT} ${TOP})`">
      <g aria-hidden="true">
        <g v-for="level in [0.25, 0.5, 0.75, 1]" :key="level">
          <line x1="0" :x2="plotWidth" :y1="y(level)" :y2="y(level)" class="level" />
          <text v-if="level !== 0.25 && level !== 0.75" x="-8" :y="y(level) + 4" class="axis end">
            {{ share(level).replace('.0', '') }}
          </text>
        </g>
        <g v-for="tick in hours" :key="tick">
          <line :x1="x(tick)" :x2="x(tick)" :y1="plotHeight" :y2="plotHeight + 4" class="ground" />
          <text
            :x="x(tick)"
            :y="plotHeight + 16"
            class="axis middle"
            :class="{ next: tick >= 1440 }"
          >
            {{ edits.clockOf(tick) }}{{ tick === 1440 ? ' next day' : '' }}
          </text>
        </g>
      </g>
      <path :d="present" class="present" />
      <path :d="starting" class="starting" />
      <line x1="0" :x2="plotWidth" :y1="plotHeight" :y2="plotHeight" class="ground" />

      <BreakHandle
        v-for="(pause, index) in pattern.breaks"
        :key="index"
        :pattern="pattern"
        :pause="pause"
        :index="index"
        :x="x"
        :y="y"
        :height="plotHeight"
        @drag="drag"
        @key="key"
        @remove="change((p) => p.breaks.splice(index, 1), true)"
      />

      <g v-for="side in ['start', 'end'] as const" :key="side">
        <path
          :d="
            side === 'start'
              ? `M${x(start - 3 * startSd)} -6H${x(start + 3 * startSd)}`
              : `M${x(end - 2 * lengthSd)} -6H${x(end + 2 * lengthSd)}`
          "
          class="spread"
        />
        <g
          class="grip side"
          tabindex="0"
          role="slider"
          :data-testid="`pattern-${side}`"
          :aria-label="side === 'start' ? 'People start' : 'People leave'"
          :aria-valuenow="Math.round(side === 'start' ? start : end)"
          :aria-valuetext="edits.clockOf(side === 'start' ? start : end)"
          @pointerdown="
            drag(
              $event,
              (at) => (p) =>
                side === 'start'
                  ? edits.moveStart(p, minutesAt(at))
                  : edits.moveEnd(p, minutesAt(at)),
            )
          "
          @keydown="
            key(
              $event,
              (n) => (p) =>
                side === 'start'
                  ? edits.moveStart(p, start + n * 5)
                  : edits.moveEnd(p, end + n * 5),
            )
          "
        >
          <line
            :x1="x(side === 'start' ? start : end)"
            :x2="x(side === 'start' ? start : end)"
            y1="-14"
            :y2="plotHeight"
            class="post"
          />
          <rect
            :x="x(side === 'start' ? start : end) - 7"
            y="-30"
            width="14"
            :height="plotHeight + 30"
            class="catch"
          />
          <path
            :d="`M${x(side === 'start' ? start : end) - 6} -26h12v9l-6 6l-6 -6z`"
            class="flag"
          />
          <text :x="x(side === 'start' ? start : end) + 11" y="-18" class="tag left">
            {{ side === 'start' ? 'start' : 'leave' }}
            {{ edits.clockOf(side === 'start' ? start : end) }}
          </text>
        </g>
        <g
          v-if="(side === 'start' ? pattern.start.kind : pattern.length.kind) !== 'histogram'"
          class="grip side"
          tabindex="0"
          role="slider"
          :data-testid="`pattern-${side}-spread`"
          :aria-label="side === 'start' ? 'Spread of starts' : 'Spread of lengths'"
          :aria-valuenow="side === 'start' ? startSd : lengthSd"
          :aria-valuetext="`${side === 'start' ? startSd : lengthSd} minutes`"
          @pointerdown="
            drag(
              $event,
              (at) => (p) =>
                side === 'start'
                  ? edits.spreadStart(p, (minutesAt(at) - start) / 3)
                  : edits.spreadLength(p, (minutesAt(at) - end) / 2),
            )
          "
          @keydown="
            key(
              $event,
              (n) => (p) =>
                side === 'start'
                  ? edits.spreadStart(p, startSd + n)
                  : edits.spreadLength(p, lengthSd + n),
            )
          "
        >
          <circle
            :cx="x(side === 'start' ? start + 3 * startSd : end + 2 * lengthSd)"
            cy="-6"
            r="4.5"
            class="flag"
          />
        </g>
      </g>
    </g>
    <LeavingBar
      :leaving="pattern.leaving"
      :x="width - RIGHT + 14"
      :top="TOP"
      :height="plotHeight"
      @change="(edit, done) => change((p) => edit(p.leaving), done)"
      @cancel="emit('cancel')"
    />
  </svg>
</template>

<style scoped src="./day.css"></style>
