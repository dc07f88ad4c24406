<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import type { CrowdYear } from '@/api/client'
import CanvasLayer from '@/chart/CanvasLayer.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import { useCursor } from '@/chart/cursor'
import type { Pen } from '@/chart/pen'
import type { Table } from '@/chart/table'
import { called } from '@/plan/called'
import { count, counted, fullDayName } from '@/ui/format'

/** A year as a map: a column for every date, a row for every hour, darker where more people are. */
const props = defineProps<{ year: CrowdYear; first: string; width: number; height: number }>()
const emit = defineEmits<{ week: [date: string] }>()

const LEFT = 52
const TOP = 34
const BOTTOM = 20
const plotWidth = computed(() => Math.max(props.width - LEFT - 12, 60))
const plotHeight = computed(() => props.height - TOP - BOTTOM)
const column = computed(() => plotWidth.value / Math.max(props.year.days.length, 1))
const row = computed(() => plotHeight.value / 24)
const most = computed(() => Math.max(1, ...props.year.days.map((day) => day.peak)))

const draw = computed(() => {
  const [days, wide, high, top] = [props.year.days, column.value, row.value, most.value]
  return (pen: Pen) => {
    pen.box(0, 0, plotWidth.value, plotHeight.value, { colour: '--paper-sunk' })
    // On whole pixels of the screen, so that cells meet without seams.
    const ratio = devicePixelRatio || 1
    const snap = (place: number) => Math.round(place * ratio) / ratio
    days.forEach((day, d) => {
      day.hours.forEach((people, hour) => {
        if (!people) return
        const [left, upper] = [snap(d * wide), snap(hour * high)]
        const [right, low] = [snap((d + 1) * wide), snap((hour + 1) * high)]
        const alpha = 0.06 + 0.94 * (people / top)
        pen.box(left, upper, right - left, low - upper, { colour: '--water-1', alpha })
      })
    })
  }
})

const months = computed(() =>
  props.year.days
    .map((day, k) => ({ day, k }))
    .filter(({ day }) => day.date.endsWith('-01'))
    .map(({ day, k }) => ({
      x: k * column.value,
      name: new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' }).format(
        new Date(day.date),
      ),
    })),
)
const marks = computed(() =>
  props.year.days
    .map((day, k) => ({ day, x: (k + 0.5) * column.value }))
    .filter(({ day }) => day.marks.length > 0),
)
const chosen = computed(() => {
  const at = props.year.days.findIndex((day) => day.date === props.first)
  return at < 0 ? null : { x: at * column.value, width: 7 * column.value }
})

interface Cell {
  day: number
  hour: number
}
const picture = ref<InstanceType<typeof ChartPicture>>()
function place(event: MouseEvent): Cell | null {
  const at = picture.value?.pointAt(event)
  const day = Math.floor((at?.x ?? -1) / column.value)
  const hour = Math.floor((at?.y ?? 0) / row.value)
  if (day < 0 || day >= props.year.days.length) return null
  return { day, hour: Math.max(0, Math.min(hour, 23)) }
}
const { at: pointed, move, leave } = useCursor<Cell>(place)
const stepped = shallowRef<Cell | null>(null)
watch(pointed, () => (stepped.value = null))
const cursor = computed(() => stepped.value ?? pointed.value)
function open(day: number): void {
  const date = props.year.days[day]?.date
  if (date) emit('week', date)
}
function key(event: KeyboardEvent): void {
  const at = cursor.value ?? { day: 0, hour: 9 }
  const moves: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
    PageUp: [-7, 0],
    PageDown: [7, 0],
  }
  const by = moves[event.key]
  if (by) {
    stepped.value = {
      day: Math.max(0, Math.min(at.day + by[0], props.year.days.length - 1)),
      hour: Math.max(0, Math.min(at.hour + by[1], 23)),
    }
  } else if (event.key === 'Enter') open(at.day)
  else return
  event.preventDefault()
}
const readout = computed(() => {
  const at = cursor.value
  const day = at ? props.year.days[at.day] : undefined
  if (!at || !day) return 'Choose a date to see its week'
  const people = day.hours[at.hour]
  const marked = day.marks.map((m) => (m.kind === 'event' ? called('events', m.name) : m.name))
  const hour = `${String(at.hour).padStart(2, '0')}:00`
  const there =
    people === null || people === undefined
      ? 'this hour is skipped'
      : `${count(people)} people between ${hour} and ${String(at.hour + 1).padStart(2, '0')}:00`
  return [fullDayName(day.date), there, ...marked].join(' · ')
})
const table = (): Table => ({
  head: ['date', ...Array.from({ length: 24 }, (_, hour) => `${hour}:00`), 'marks'],
  rows: props.year.days.map((day) => [
    day.date,
    ...day.hours.map((people) => people ?? null),
    day.marks.map((m) => m.name).join('; '),
  ]),
})
</script>

<template>
  <div
    class="map"
    tabindex="0"
    role="application"
    data-testid="year"
    :aria-label="`The year, an hour of a date at a time. ${readout}`"
    @pointermove="move"
    @pointerleave="leave"
    @click="(e) => open(place(e)?.day ?? -1)"
    @keydown="key"
  >
    <ChartPicture
      ref="picture"
      :name="`year from ${year.days[0]?.date ?? ''}`"
      label="The year by the hour"
      :width="width"
      :height="height"
      :left="LEFT"
      :top="TOP"
      :table="table"
    >
      <text v-for="m in months" :key="m.x" :x="m.x + 3" y="-20" class="axis-text">{{
        m.name
      }}</text>
      <line
        v-for="m in months"
        :key="`l${m.x}`"
        :x1="m.x"
        :x2="m.x"
        y1="-30"
        y2="0"
        class="level"
      />
      <path
        v-for="m in marks"
        :key="m.day.date"
        :d="`M${m.x} -2l-3 -7h6z`"
        class="mark"
        :class="m.day.marks[0]?.kind"
      />
      <text
        v-for="hour in [0, 6, 12, 18]"
        :key="hour"
        x="-8"
        :y="hour * row + 9"
        class="axis-text end"
      >
        {{ String(hour).padStart(2, '0') }}:00
      </text>
      <template #canvas>
        <CanvasLayer :x="LEFT" :y="TOP" :width="plotWidth" :height="plotHeight" :draw="draw" />
      </template>
      <template #over>
        <rect
          v-if="chosen"
          :x="chosen.x"
          y="-1"
          :width="chosen.width"
          :height="plotHeight + 2"
          class="chosen"
        />
        <rect
          v-if="cursor"
          :x="cursor.day * column - 1"
          :y="cursor.hour * row - 1"
          :width="column + 2"
          :height="row + 2"
          class="chosen"
        />
        <text x="0" :y="plotHeight + 15" class="axis-text">{{ readout }}</text>
        <text :x="plotWidth - 24" :y="plotHeight + 15" class="axis-text end">
          darkest: {{ counted(most, 'person', 'people') }}
        </text>
      </template>
    </ChartPicture>
  </div>
</template>

<style scoped>
.map {
  cursor: pointer;
}
.map:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -2px;
}
.mark {
  fill: none;
  stroke: var(--ink);
}
.mark.event {
  fill: var(--ink);
}
.chosen {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
