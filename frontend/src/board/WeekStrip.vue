<script setup lang="ts">
import { computed } from 'vue'

import type { Day, WeekAnswer } from '@/api/client'
import { stepArea } from '@/chart/steps'
import { WEEKDAYS, count, dayName, share, words } from '@/ui/format'

import { binsOf } from './day'

/** Seven small days to choose from, each with its own flood and idle marks. */
const props = defineProps<{ week: WeekAnswer; weekday: number }>()
const emit = defineEmits<{ choose: [weekday: number] }>()

const WIDTH = 96
const HEIGHT = 30
const top = computed(() =>
  Math.max(
    8,
    ...props.week.series.quay,
    ...props.week.days.map((d) => d.peak_sessions + d.peak_waiting),
  ),
)

/** Bins that are drawn as one, the highest of them: a day here is narrower than it has bins. */
const TOGETHER = 3

function pictures(day: Day) {
  const { series } = props.week
  const [first, last] = binsOf(series, day)
  const y = (v: number) => HEIGHT - (v / top.value) * HEIGHT
  const edges: number[] = []
  const bottom: number[] = []
  const quay: number[] = []
  const water: number[] = []
  const shore: number[] = []
  const crest: number[] = []
  for (let from = first; from < last; from += TOGETHER) {
    let [held, wet, waits] = [0, 0, 0]
    for (let k = from; k < Math.min(from + TOGETHER, last); k += 1) {
      const at = (values: number[]) => values[k] ?? 0
      held = Math.max(held, at(series.quay))
      wet = Math.max(wet, at(series.active) + at(series.idle) + at(series.disconnected))
      waits = Math.max(waits, at(series.waiting))
    }
    edges.push(((from - first) / (last - first)) * WIDTH)
    bottom.push(HEIGHT)
    quay.push(y(held))
    water.push(y(wet))
    shore.push(y(Math.max(held, wet)))
    crest.push(y(Math.max(held, wet) + waits))
  }
  edges.push(WIDTH)
  return {
    quay: stepArea(edges, bottom, quay),
    water: stepArea(edges, bottom, water),
    flood: stepArea(edges, shore, crest),
  }
}
const days = computed(() => props.week.days.map((day) => ({ day, ...pictures(day) })))

function describe(day: Day): string {
  const harm = day.peak_waiting > 0 ? `up to ${count(day.peak_waiting)} wait` : 'nobody waits'
  return `${WEEKDAYS[day.weekday]} ${dayName(day.date)}, ${words(day.day_type)}: ${harm}, ${share(day.idle_share)} of host time unused`
}

function key(event: KeyboardEvent): void {
  const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!step) return
  const next = (props.weekday + step + 7) % 7
  emit('choose', next)
  const row = event.currentTarget as HTMLElement
  row.querySelectorAll<HTMLElement>('[role=radio]')[next]?.focus()
  event.preventDefault()
}
</script>

<template>
  <div class="strip" role="radiogroup" aria-label="Days of the week" @keydown="key">
    <button
      v-for="{ day, quay, water, flood } in days"
      :key="day.date"
      class="plain day"
      :class="{ chosen: day.weekday === weekday }"
      role="radio"
      data-testid="day"
      :aria-checked="day.weekday === weekday"
      :tabindex="day.weekday === weekday ? 0 : -1"
      :aria-label="describe(day)"
      @click="emit('choose', day.weekday)"
    >
      <span class="head">
        <b>{{ WEEKDAYS[day.weekday] }}</b>
        <span class="quiet">{{ dayName(day.date) }}</span>
        <span v-if="day.clock_change" class="change" title="The clock changes on this day">
          {{ day.clock_change < 0 ? '−1 h' : '+1 h' }}
        </span>
      </span>
      <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" preserveAspectRatio="none" aria-hidden="true">
        <path :d="quay" class="quay" />
        <path :d="water" class="water" />
        <path :d="flood" class="flood" />
      </svg>
      <span class="marks">
        <span :class="{ harm: day.peak_waiting > 0 }">
          {{ day.peak_waiting > 0 ? `▲ ${count(day.peak_waiting)} wait` : 'no waits' }}
        </span>
        <span class="quiet">{{
          day.idle_share || day.peak_sessions ? `${share(day.idle_share)} idle` : 'all off'
        }}</span>
      </span>
    </button>
  </div>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: repeat(7, 1fr);
  border-top: 1px solid var(--hair-strong);
}
.day {
  padding: 5px 8px 5px;
  border-right: 1px solid var(--hair);
  min-width: 0;
}
.day:last-child {
  border-right: 0;
}
.day.chosen {
  background: var(--paper-raised);
  box-shadow: inset 0 3px 0 var(--brass);
}
.day:focus-visible {
  outline-offset: -3px;
}
.head,
.marks {
  display: flex;
  gap: 6px;
  font-size: 12px;
  white-space: nowrap;
  overflow: hidden;
}
.marks {
  justify-content: space-between;
}
.change {
  font-weight: 650;
  margin-left: auto;
}
svg {
  display: block;
  width: 100%;
  height: 30px;
  margin: 3px 0;
}
.quay {
  fill: var(--brass-wash);
  stroke: var(--brass-line);
  stroke-width: 0.6;
}
.water {
  fill: var(--water-1);
}
.flood {
  fill: var(--buoy);
}
.harm {
  color: var(--buoy);
  font-weight: 650;
}
</style>
