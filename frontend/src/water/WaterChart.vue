<script setup lang="ts">
import { linear } from '@/chart/scale'
import { computed, ref, shallowRef, watch } from 'vue'

import type { Day, WeekAnswer } from '@/api/client'
import AcrossAxis from '@/chart/AcrossAxis.vue'
import { datedTicks, timeTicks } from '@/chart/axis'
import CanvasLayer from '@/chart/CanvasLayer.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import { useCursor } from '@/chart/cursor'
import { drawLegend, placed, textAt } from '@/chart/legend'
import type { Pen } from '@/chart/pen'
import TimeBrush from '@/chart/TimeBrush.vue'
import { useTimeframe } from '@/chart/timeframe'
import UpAxis from '@/chart/UpAxis.vue'
import { clock, count, counted } from '@/ui/format'

import BandHandles from './BandHandles.vue'
import { valueAt, type DayBand } from './day'
import { handlesOf, textHeights } from './handles'
import TargetHandles from './TargetHandles.vue'
import { marksOf, type DayTarget } from './targets'
import WaitStrip from './WaitStrip.vue'
import { drawWaits, waitWords, waitsOf, type Wait } from './waits'
import { columnsOf, crestOf, drawDay, drawGhost, kindsOf, tableOf, topOf } from './water'

/** The day as water and quay, with the schedule's handles in it and the waits below. */
const props = defineProps<{
  week: WeekAnswer
  baseline: WeekAnswer | null
  /** What that is of. */
  beside: string
  day: Day
  bands: DayBand[]
  targets: DayTarget[]
  selected: number
  width: number
  height: number
  left: number
  right: number
  /** Whether the scale keeps still: something is held, or the week is about to be replaced. */
  still: boolean
  /** Whether it is the week of an earlier plan, since this one cannot be simulated. */
  stale: boolean
  /** Whether what is changed is for one pool alone: times are everybody's. */
  fixed: boolean
}>()
const emit = defineEmits<{
  select: [index: number]
  edge: [index: number, instant: number, done: boolean]
  floor: [index: number, hosts: number, done: boolean]
  ceiling: [index: number, share: number, done: boolean]
  split: [index: number]
  remove: [index: number]
  targetTime: [target: DayTarget, instant: number, done: boolean]
  targetHosts: [target: DayTarget, hosts: number, done: boolean]
  cancel: []
  flood: [start: number, end: number]
}>()

const TOP = 22
const STRIP = 40
const GAP = 7
const BOTTOM = 20
const plotWidth = computed(() => Math.max(props.width - props.left - props.right, 50))
const plotHeight = computed(() => props.height - TOP - BOTTOM - STRIP - GAP)
const columns = computed(() => columnsOf(props.week.series, props.day))
const ghostDay = computed(() =>
  props.baseline?.days.find((day) => day.weekday === props.day.weekday),
)
const ghost = computed(() =>
  props.baseline && ghostDay.value ? columnsOf(props.baseline.series, ghostDay.value) : null,
)

/** The scale does not run from under the hand, and is set once for the week that comes. */
const top = ref(1)
const needed = computed(() => {
  const hosts = [...props.bands.map((b) => b.band.floor), ...props.targets.map((t) => t.hosts)]
  const asked = Math.max(...hosts, 0) * props.week.session_limit
  return Math.max(topOf(columns.value), ghost.value ? topOf(ghost.value) : 0, asked, 8)
})
watch(
  [needed, () => props.still],
  () => {
    if (!props.still || top.value === 1) top.value = needed.value * 1.12
  },
  { immediate: true },
)

const start = computed(() => props.day.start)
const end = computed(() => props.day.end)
const frame = useTimeframe(start, end)
const { view, partly } = frame
const x = computed(() => linear([view.value.from, view.value.to], [0, plotWidth.value]))
const y = computed(() => linear([0, top.value], [plotHeight.value, 0]))
const draw = computed(() => {
  const [day, base, across, up] = [columns.value, ghost.value, x.value, y.value]
  const later = (ghostDay.value?.start ?? 0) - start.value
  return (pen: Pen) => {
    drawDay(pen, day, across, up)
    if (base) drawGhost(pen, base, (at) => across(at - later), up)
  }
})
const waits = computed(() => waitsOf(props.week, props.day))
const drawStrip = computed(() => {
  const [all, across, seconds] = [waits.value, x.value, props.week.series.seconds]
  return (pen: Pen) => drawWaits(pen, all, across, seconds, STRIP)
})

const zone = computed(() => props.week.zone)
const hours = computed(() => {
  const { from, to } = view.value
  const ticks = timeTicks(from, to, zone.value, plotWidth.value)
  return datedTicks(ticks, start.value, end.value, zone.value)
})
const levels = computed(() => y.value.ticks(5).map((at) => ({ at, text: count(at) })))
const hostLevels = computed(() => {
  const limit = props.week.session_limit
  return linear([0, top.value / limit], [0, 1])
    .ticks(5)
    .filter(Number.isInteger)
    .map((hosts) => ({ at: hosts * limit, text: count(hosts) }))
})

const handles = computed(() =>
  handlesOf(props.bands, {
    x: x.value,
    y: y.value,
    width: plotWidth.value,
    limit: props.week.session_limit,
    quayAt: (t) => valueAt(props.week.series, props.week.series.quay, t),
  }),
)
const floods = computed(() =>
  props.week.floods.filter((flood) => flood.at >= start.value && flood.at < end.value),
)
const marks = computed(() =>
  floods.value.map((flood) => {
    const bin = Math.floor((flood.at - start.value) / props.week.series.seconds)
    const crest = y.value(crestOf(columns.value, bin))
    const text = `${count(flood.peak)} wait`
    return { x: x.value(flood.at) + 30, y: crest - 6, text, crest, stem: x.value(flood.at) }
  }),
)
const targetMarks = computed(() =>
  marksOf(props.targets, x.value, y.value, props.week.session_limit, end.value),
)
const texts = computed(() =>
  textHeights(marks.value, handles.value, targetMarks.value, plotHeight.value),
)

const picture = ref<InstanceType<typeof ChartPicture>>()
const pointed = shallowRef<Wait | null>(null)
const {
  at: mine,
  move,
  leave,
} = useCursor((event) => {
  const at = x.value.invert(picture.value?.pointAt(event).x ?? -1)
  return at >= view.value.from && at < view.value.to ? Math.floor(at / 300) * 300 : null
})
watch(mine, (at) => (frame.cursor.value = at))
/** Where this picture, or one that stands below it, is pointed at. */
const cursor = frame.cursor
const readout = computed(() => {
  if (cursor.value === null) return null
  const s = props.week.series
  const at = (values: number[]) => valueAt(s, values, cursor.value ?? 0)
  return {
    time: clock(cursor.value, zone.value),
    sessions: at(s.active) + at(s.idle) + at(s.disconnected),
    quay: at(s.quay),
    waiting: at(s.waiting_peak),
    x: x.value(cursor.value),
  }
})
const legend = computed(() => placed(kindsOf(ghost.value ? props.beside : ''), plotWidth.value))
/** What is told of a place stands where the legend is. */
const tells = computed(() => readout.value !== null || pointed.value !== null)
const drawKinds = computed(() => {
  const kinds = tells.value ? [] : legend.value
  return (pen: Pen) => drawLegend(pen, kinds)
})
const summary = computed(
  () =>
    `Peak of ${count(props.day.peak_sessions)} sessions; up to ` +
    `${count(props.day.peak_waiting)} people wait at once`,
)
</script>

<template>
  <ChartPicture
    ref="picture"
    :name="`${week.pool} ${day.date}`"
    :label="`Water and quay. ${summary}`"
    :width="width"
    :height="height"
    :left="left"
    :top="TOP"
    :table="() => tableOf(week, day)"
    :stale="stale"
    data-testid="water"
    @pointermove="move"
    @pointerleave="leave"
  >
    <template #canvas>
      <CanvasLayer :x="left" :y="TOP" :width="plotWidth" :height="plotHeight" :draw="draw" />
      <CanvasLayer
        :x="left"
        :y="TOP + plotHeight + GAP"
        :width="plotWidth"
        :height="STRIP"
        :draw="drawStrip"
      />
      <CanvasLayer :x="left + 4" :y="5" :width="plotWidth" :height="9" :draw="drawKinds" />
    </template>
    <UpAxis :ticks="levels" :y="y" :width="plotWidth" title="sessions" />
    <UpAxis right :ticks="hostLevels" :y="y" :width="plotWidth" title="hosts" />
    <line x1="0" :x2="plotWidth" :y1="plotHeight" :y2="plotHeight" class="ground" />
    <AcrossAxis :ticks="hours" :x="x" :width="plotWidth" :y="plotHeight + GAP + STRIP" />
    <template #over>
      <!-- What lies beyond the stretch that is shown is cut off. -->
      <svg
        x="0"
        :y="-TOP"
        :width="plotWidth"
        :height="height"
        :viewBox="`0 ${-TOP} ${plotWidth} ${height}`"
        :overflow="partly ? 'hidden' : 'visible'"
      >
        <g v-for="(mark, k) in marks" :key="k" class="flood" aria-hidden="true">
          <path :d="`M${mark.stem} ${mark.crest}V${texts.marks[k]}`" class="stem" />
          <text :x="mark.stem + 4" :y="texts.marks[k]" class="people on-picture">
            {{ mark.text }}
          </text>
        </g>
        <BandHandles
          :handles="handles"
          :floor-texts="texts.floors"
          :ceiling-texts="texts.ceilings"
          :selected="selected"
          :x="x"
          :y="y"
          :height="plotHeight"
          :limit="week.session_limit"
          :most="week.hosts"
          :zone="zone"
          :fixed="fixed"
          @select="emit('select', $event)"
          @edge="(i, t, d) => emit('edge', i, t, d)"
          @floor="(i, n, d) => emit('floor', i, n, d)"
          @ceiling="(i, n, d) => emit('ceiling', i, n, d)"
          @split="emit('split', $event)"
          @remove="emit('remove', $event)"
          @cancel="emit('cancel')"
        />
        <TargetHandles
          :marks="targetMarks"
          :texts="texts.targets"
          :x="x"
          :y="y"
          :height="plotHeight"
          :limit="week.session_limit"
          :most="week.hosts"
          :fixed="fixed"
          @time="(target, at, done) => emit('targetTime', target, at, done)"
          @hosts="(target, hosts, done) => emit('targetHosts', target, hosts, done)"
          @cancel="emit('cancel')"
        />
      </svg>
      <TimeBrush
        :frame="frame"
        :x="x"
        :width="plotWidth"
        :y="plotHeight + GAP + STRIP"
        :height="BOTTOM"
        :say="(at) => clock(at, zone)"
      />
      <WaitStrip
        :waits="waits"
        :floods="floods"
        :x="x"
        :width="plotWidth"
        :top="plotHeight + GAP"
        :height="STRIP"
        :zone="zone"
        @point="pointed = $event"
        @flood="(from, to) => emit('flood', from, to)"
      />
      <line
        v-if="readout"
        :x1="readout.x"
        :x2="readout.x"
        y1="0"
        :y2="plotHeight + GAP + STRIP"
        class="pointer"
      />
      <text v-if="pointed" x="4" y="-9" class="axis-text harm">
        {{ waitWords(pointed, zone) }}
      </text>
      <text v-else-if="readout" x="4" y="-9" class="axis-text">
        {{ readout.time }} · {{ counted(readout.sessions, 'session') }} ·
        {{ count(readout.quay) }} slots
        <tspan v-if="readout.waiting > 0" class="harm">· {{ count(readout.waiting) }} wait</tspan>
      </text>
      <g v-else>
        <text
          v-for="kind in legend"
          :key="kind.text"
          :x="textAt(kind) + 4"
          y="-9"
          class="axis-text"
        >
          {{ kind.text }}
        </text>
      </g>
    </template>
  </ChartPicture>
</template>

<style scoped>
.stem {
  stroke: var(--buoy);
  stroke-width: 1.5;
}
.people,
.harm.harm {
  fill: var(--buoy);
  font-weight: 650;
}
.people {
  font-size: 12px;
}
</style>
