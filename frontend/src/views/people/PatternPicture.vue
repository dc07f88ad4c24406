<script setup lang="ts">
import { rowKey } from '@/plan/rows'
import { linear } from '@/chart/scale'
import { computed, ref, shallowRef, watch } from 'vue'

import type { Pattern, PatternAnswer } from '@/api/client'
import AcrossAxis from '@/chart/AcrossAxis.vue'
import ChartHandle from '@/chart/ChartHandle.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import type { Point } from '@/chart/frame'
import { stepArea } from '@/chart/steps'
import type { Table } from '@/chart/table'
import UpAxis from '@/chart/UpAxis.vue'

import BreakHandle from './BreakHandle.vue'
import LeavingBar from './LeavingBar.vue'
import * as edits from './pattern'

/** A pattern's working day: drag its start, its end and its breaks; the week answers. */
const props = defineProps<{
  pattern: Pattern
  picture: PatternAnswer | null
  /** The pattern that the picture is of: this one, or what it was a moment ago. */
  pictured: Pattern | null
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
const told = computed<edits.PatternDay | null>(() =>
  props.picture && props.pictured ? { ...props.picture, of: props.pictured } : null,
)
const start = computed(() => (told.value ? edits.startOf(props.pattern, told.value) : 0))
const end = computed(() => (told.value ? edits.endOf(props.pattern, told.value) : 0))
const breaks = computed(() =>
  props.pattern.breaks.map((pause, k) => ({
    pause,
    key: rowKey(pause),
    at: told.value && edits.breakAt(props.pattern, told.value, k),
    room: told.value?.breaks[k],
  })),
)
const startSd = computed(() =>
  props.pattern.start.kind === 'histogram' ? 0 : props.pattern.start.sd_minutes,
)
const lengthSd = computed(() =>
  props.pattern.length.kind === 'histogram' ? 0 : props.pattern.length.sd_minutes,
)

/** The hours drawn keep still while something is held. */
const span = ref<[number, number]>([0, 24 * HOUR])
const held = ref(false)
/** Where the day stood when something was taken hold of: edits go from there. */
const day = shallowRef<edits.PatternDay>({ start: 0, end: 0, breaks: [], of: props.pattern })
watch(
  [told, held],
  () => {
    if (held.value || !told.value || !props.picture) return
    day.value = told.value
    const low = Math.max(Math.floor(props.picture.earliest / HOUR - 1) * HOUR, 0)
    const high = Math.ceil(props.picture.latest / HOUR + 1) * HOUR
    span.value = [low, Math.min(Math.max(high, low + 8 * HOUR), 48 * HOUR)]
  },
  { immediate: true },
)
const x = computed(() => linear(span.value, [0, plotWidth.value]))
const y = computed(() => linear([0, 1], [plotHeight.value, 0]))
const hours = computed(() => {
  const every = (span.value[1] - span.value[0]) / HOUR > 16 ? 2 : 1
  const first = Math.ceil(span.value[0] / HOUR / every) * every
  const ticks: { at: number; text: string }[] = []
  for (let hour = first; hour <= span.value[1] / HOUR; hour += every) {
    const at = hour * HOUR
    ticks.push({ at, text: edits.clockOf(at) + (at === 24 * HOUR ? ' next day' : '') })
  }
  return ticks
})
const levels = [0.25, 0.5, 0.75, 1].map((at) => ({ at, text: at % 0.5 ? '' : `${at * 100} %` }))

function curve(values: readonly number[], scale: number): string {
  const step = (props.picture?.step ?? 300) / 60
  const first = Math.floor(span.value[0] / step)
  const last = Math.min(Math.ceil(span.value[1] / step), values.length - 1)
  const bins = Array.from({ length: Math.max(last - first + 1, 0) }, (_, k) => first + k)
  const edges = [...bins, first + bins.length].map((k) => x.value(k * step))
  const bottom = bins.map(() => plotHeight.value)
  return stepArea(
    edges,
    bottom,
    bins.map((k) => y.value((values[k] ?? 0) * scale)),
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
function cancel(): void {
  held.value = false
  emit('cancel')
}
const minutesAt = (at: Point) => x.value.invert(at.x)

const DAY = 24 * HOUR
interface Side {
  side: 'start' | 'leave'
  label: string
  at: number
  min: number
  max: number
  move: (pattern: Pattern, day: edits.PatternDay, minutes: number) => void
  spread: Spread | null
}
interface Spread {
  label: string
  sd: number
  /** How many of them the line beside the flag reaches. */
  reach: number
  set: (pattern: Pattern, minutes: number) => void
}
/** When people start and when they leave: two handles alike, each with its spread. */
const sides = computed<Side[]>(() => [
  {
    side: 'start',
    label: 'People start',
    at: start.value,
    min: 0,
    max: DAY - 5,
    move: edits.moveStart,
    spread:
      props.pattern.start.kind === 'histogram'
        ? null
        : { label: 'Spread of starts', sd: startSd.value, reach: 3, set: edits.spreadStart },
  },
  {
    side: 'leave',
    label: 'People leave',
    at: end.value,
    min: start.value + 10,
    max: start.value + DAY,
    move: edits.moveEnd,
    spread:
      props.pattern.length.kind === 'histogram'
        ? null
        : { label: 'Spread of lengths', sd: lengthSd.value, reach: 2, set: edits.spreadLength },
  },
])
const spreadLine = ({ side, at, spread }: Side) => {
  const before = side === 'start' ? (spread?.reach ?? 0) * (spread?.sd ?? 0) : 2 * lengthSd.value
  return `M${x.value(at - before)} -6H${x.value(at + before)}`
}
const table = (): Table => {
  const step = (props.picture?.step ?? 300) / 60
  return {
    head: ['time', 'share at work', 'share starting'],
    rows: (props.picture?.present ?? []).map((present, k) => [
      edits.clockOf(k * step),
      present,
      props.picture?.starting[k] ?? 0,
    ]),
  }
}
</script>

<template>
  <ChartPicture
    name="working day"
    label="A working day"
    :width="width"
    :height="height"
    :left="LEFT"
    :top="TOP"
    :table="table"
  >
    <UpAxis :ticks="levels" :y="y" :width="plotWidth" title="" />
    <path :d="present" class="present" />
    <path :d="starting" class="starting" />
    <AcrossAxis :ticks="hours" :x="x" :width="plotWidth" :y="plotHeight" />
    <template v-if="picture" #over>
      <BreakHandle
        v-for="(each, index) in breaks"
        :key="each.key"
        :day="day"
        :at="each.at"
        :room="each.room"
        :pause="each.pause"
        :index="index"
        :x="x"
        :y="y"
        :height="plotHeight"
        @change="change"
        @cancel="cancel"
      />
      <g v-for="s in sides" :key="s.side">
        <path :d="spreadLine(s)" class="spread" />
        <ChartHandle
          :data-testid="`pattern-${s.side}`"
          :label="s.label"
          :text="edits.clockOf(s.at)"
          :value="Math.round(s.at)"
          :min="s.min"
          :max="s.max"
          :step="5"
          :page="30"
          :value-at="minutesAt"
          :place-of="x"
          @move="(minutes, done) => change((p) => s.move(p, day, minutes), done)"
          @cancel="cancel"
        >
          <line :x1="x(s.at)" :x2="x(s.at)" y1="-14" :y2="plotHeight" class="rail post" />
          <rect :x="x(s.at) - 7" y="-30" width="14" :height="plotHeight + 30" class="catch" />
          <path :d="`M${x(s.at) - 6} -26h12v9l-6 6l-6 -6z`" class="grip" />
          <text :x="x(s.at) + 11" y="-18" class="tag left">
            {{ s.side }} {{ edits.clockOf(s.at) }}
          </text>
        </ChartHandle>
        <ChartHandle
          v-if="s.spread"
          :data-testid="`pattern-${s.side}-spread`"
          :label="s.spread.label"
          :text="`${s.spread.sd} minutes`"
          :value="s.spread.sd"
          :min="0"
          :max="edits.boundsOf(`${s.side === 'start' ? 'start' : 'length'}.sd_minutes`).high"
          :value-at="(at) => (minutesAt(at) - s.at) / (s.spread?.reach ?? 1)"
          :place-of="(minutes) => x(s.at + (s.spread?.reach ?? 1) * minutes)"
          @move="(minutes, done) => change((p) => s.spread?.set(p, minutes), done)"
          @cancel="cancel"
        >
          <circle :cx="x(s.at + s.spread.reach * s.spread.sd)" cy="-6" r="4.5" class="grip" />
        </ChartHandle>
      </g>
      <LeavingBar
        :leaving="pattern.leaving"
        :x="plotWidth + 14"
        :height="plotHeight"
        @change="(edit, done) => change((p) => edit(p.leaving), done)"
        @cancel="cancel"
      />
    </template>
  </ChartPicture>
</template>

<style scoped>
.present {
  fill: var(--water-3);
  stroke: var(--water-1);
  stroke-width: 1.2;
}
.starting {
  fill: var(--water-1);
  opacity: 0.55;
}
.post {
  stroke-dasharray: 2 3;
}
.spread {
  stroke: var(--ink);
  stroke-width: 1.4;
  fill: none;
}
.tag.left {
  text-anchor: start;
}
</style>
