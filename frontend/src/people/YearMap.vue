<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'

import type { CrowdYear } from '@/api/client'
import { night } from '@/theme/theme'
import { count, fullDayName, words } from '@/ui/format'

/** A year as a map: a column for every date, a row for every hour, darker where more people are. */
const props = defineProps<{ year: CrowdYear; first: string; width: number; height: number }>()
const emit = defineEmits<{ week: [date: string] }>()

const LEFT = 52
const TOP = 34
const BOTTOM = 20
const canvas = ref<HTMLCanvasElement>()
const plotWidth = computed(() => Math.max(props.width - LEFT - 12, 60))
const plotHeight = computed(() => props.height - TOP - BOTTOM)
const column = computed(() => plotWidth.value / Math.max(props.year.days.length, 1))
const row = computed(() => plotHeight.value / 24)
const most = computed(() => Math.max(1, ...props.year.days.map((day) => day.peak)))

function draw(): void {
  const context = canvas.value?.getContext('2d')
  if (!canvas.value || !context) return
  const ratio = devicePixelRatio || 1
  canvas.value.width = plotWidth.value * ratio
  canvas.value.height = plotHeight.value * ratio
  context.scale(ratio, ratio)
  // On whole pixels of the screen, so that cells meet without seams.
  const snap = (place: number) => Math.round(place * ratio) / ratio
  const style = getComputedStyle(document.documentElement)
  const ink = style.getPropertyValue('--water-1').trim()
  context.fillStyle = style.getPropertyValue('--paper-sunk').trim()
  context.fillRect(0, 0, plotWidth.value, plotHeight.value)
  context.fillStyle = ink
  props.year.days.forEach((day, d) => {
    day.hours.forEach((people, hour) => {
      if (!people) return
      context.globalAlpha = 0.06 + 0.94 * (people / most.value)
      const [left, top] = [snap(d * column.value), snap(hour * row.value)]
      const [right, low] = [snap((d + 1) * column.value), snap((hour + 1) * row.value)]
      context.fillRect(left, top, right - left, low - top)
    })
  })
}
onMounted(draw)
watch([() => props.year, plotWidth, plotHeight, night], draw, { flush: 'post' })

const months = computed(() =>
  props.year.days
    .map((day, k) => ({ day, k }))
    .filter(({ day }) => day.date.endsWith('-01'))
    .map(({ day, k }) => ({
      x: LEFT + k * column.value,
      name: new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' }).format(
        new Date(day.date),
      ),
    })),
)
const marks = computed(() =>
  props.year.days
    .map((day, k) => ({ day, x: LEFT + (k + 0.5) * column.value }))
    .filter(({ day }) => day.marks.length > 0),
)
const chosen = computed(() => {
  const at = props.year.days.findIndex((day) => day.date === props.first)
  return at < 0 ? null : { x: LEFT + at * column.value, width: 7 * column.value }
})

const cursor = ref<{ day: number; hour: number } | null>(null)
function place(event: PointerEvent): { day: number; hour: number } | null {
  const frame = (event.currentTarget as Element).getBoundingClientRect()
  const day = Math.floor((event.clientX - frame.left - LEFT) / column.value)
  const hour = Math.floor((event.clientY - frame.top - TOP) / row.value)
  if (day < 0 || day >= props.year.days.length) return null
  return { day, hour: Math.max(0, Math.min(hour, 23)) }
}
function open(day: number): void {
  const date = props.year.days[day]?.date
  if (date) emit('week', date)
}
function key(event: KeyboardEvent): void {
  const at = cursor.value ?? { day: 0, hour: 9 }
  const move: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
    PageUp: [-7, 0],
    PageDown: [7, 0],
  }
  const by = move[event.key]
  if (by) {
    cursor.value = {
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
  const marked = day.marks.map((m) => (m.kind === 'event' ? words(m.name) : m.name))
  const hour = `${String(at.hour).padStart(2, '0')}:00`
  const there =
    people === null || people === undefined
      ? 'this hour is skipped'
      : `${count(people)} people between ${hour} and ${String(at.hour + 1).padStart(2, '0')}:00`
  return [fullDayName(day.date), there, ...marked].join(' · ')
})
</script>

<template>
  <div
    class="map"
    tabindex="0"
    role="application"
    data-testid="year"
    :style="{ height: `${height}px` }"
    :aria-label="`The year, an hour of a date at a time. ${readout}`"
    @pointermove="cursor = place($event)"
    @pointerleave="cursor = null"
    @click="(e) => open(place(e as PointerEvent)?.day ?? -1)"
    @keydown="key"
  >
    <canvas
      ref="canvas"
      :style="{
        left: `${LEFT}px`,
        top: `${TOP}px`,
        width: `${plotWidth}px`,
        height: `${plotHeight}px`,
      }"
    ></canvas>
    <svg :width="width" :height="height" aria-hidden="true">
      <text v-for="m in months" :key="m.x" :x="m.x + 3" y="14" class="axis">{{ m.name }}</text>
      <line
        v-for="m in months"
        :key="`l${m.x}`"
        :x1="m.x"
        :x2="m.x"
        y1="4"
        :y2="TOP"
        class="hair"
      />
      <path
        v-for="m in marks"
        :key="m.day.date"
        :d="`M${m.x} ${TOP - 2}l-3 -7h6z`"
        class="mark"
        :class="m.day.marks[0]?.kind"
      />
      <text
        v-for="hour in [0, 6, 12, 18]"
        :key="hour"
        :x="LEFT - 8"
        :y="TOP + hour * row + 9"
        class="axis end"
      >
        {{ String(hour).padStart(2, '0') }}:00
      </text>
      <rect
        v-if="chosen"
        :x="chosen.x"
        :y="TOP - 1"
        :width="chosen.width"
        :height="plotHeight + 2"
        class="chosen"
      />
      <rect
        v-if="cursor"
        :x="LEFT + cursor.day * column - 1"
        :y="TOP + cursor.hour * row - 1"
        :width="column + 2"
        :height="row + 2"
        class="cell"
      />
      <text :x="LEFT" :y="height - 5" class="axis">{{ readout }}</text>
      <text :x="width - 12" :y="height - 5" class="axis end">
        darkest: {{ count(most) }} people
      </text>
    </svg>
  </div>
</template>

<style scoped>
.map {
  position: relative;
  cursor: pointer;
}
.map:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -2px;
}
canvas,
svg {
  position: absolute;
}
.axis {
  font-size: 11.5px;
  fill: var(--ink-quiet);
}
.end {
  text-anchor: end;
}
.hair {
  stroke: var(--hair-strong);
}
.mark {
  fill: none;
  stroke: var(--ink);
}
.mark.event {
  fill: var(--ink);
}
.chosen,
.cell {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
