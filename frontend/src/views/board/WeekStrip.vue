<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Day, WeekAnswer } from '@/api/client'
import CanvasLayer from '@/chart/CanvasLayer.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import type { Pen } from '@/chart/pen'
import { stepArea } from '@/chart/steps'
import type { Table } from '@/chart/table'
import { calledDay } from '@/plan/called'
import { useWidth } from '@/ui/useWidth'
import { WEEKDAYS, count, dayName, share } from '@/ui/format'

import { binsOf } from '@/water/day'
import { INKS } from '@/water/water'

/** Seven small days to choose from, each with its own flood and what was not used. */
const props = defineProps<{ week: WeekAnswer; weekday: number; schedule: string }>()
const emit = defineEmits<{ choose: [weekday: number] }>()

const root = ref<HTMLElement>()
const width = useWidth(root, 960)
const HEIGHT = 80
/** A day that is as wide has room for its date, and for what was not used. */
const DATED = 96
const HEAD = 25
const DEEP = 30
const column = computed(() => width.value / 7)
const top = computed(() =>
  Math.max(
    8,
    ...props.week.series.quay,
    ...props.week.days.map((d) => d.peak_sessions + d.peak_waiting),
  ),
)

/** Bins that are drawn as one, the highest of them: a day here is narrower than it has bins. */
const TOGETHER = 3

function drawDay(pen: Pen, week: WeekAnswer, day: Day, left: number, wide: number, most: number) {
  const { series } = week
  const [first, last] = binsOf(series, day)
  const y = (v: number) => DEEP - (v / most) * DEEP
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
    edges.push(left + ((from - first) / (last - first)) * wide)
    bottom.push(DEEP)
    quay.push(y(held))
    water.push(y(wet))
    shore.push(y(Math.max(held, wet)))
    crest.push(y(Math.max(held, wet) + waits))
  }
  edges.push(left + wide)
  pen.fill(stepArea(edges, bottom, quay), { colour: '--brass-wash' })
  pen.fill(stepArea(edges, bottom, water), { colour: '--water-1' })
  pen.fill(stepArea(edges, shore, crest), INKS.flood[0])
  pen.steps(edges, quay, { colour: '--brass-line', width: 0.8 })
}
const draw = computed(() => {
  const [week, most, wide] = [props.week, top.value, column.value]
  return (pen: Pen) =>
    week.days.forEach((day, k) => drawDay(pen, week, day, k * wide + 8, wide - 16, most))
})

const said = (day: Day) => ({
  waits: day.peak_waiting > 0 ? `▲ ${count(day.peak_waiting)} wait` : 'no waits',
  idle: day.idle_share || day.peak_sessions ? `${count(day.idle_share * 100)} % unused` : 'all off',
})
function describe(day: Day): string {
  const harm = day.peak_waiting > 0 ? `up to ${count(day.peak_waiting)} wait` : 'nobody waits'
  return `${WEEKDAYS[day.weekday]} ${dayName(day.date)}, ${calledDay(props.schedule, day.day_type)}: ${harm}, ${share(day.idle_share)} of host time unused`
}
const table = (): Table => ({
  head: ['date', 'weekday', 'day type', 'most sessions', 'most waiting', 'unused share'],
  rows: props.week.days.map((day) => [
    day.date,
    WEEKDAYS[day.weekday] ?? '',
    day.day_type,
    day.peak_sessions,
    day.peak_waiting,
    day.idle_share,
  ]),
})

function key(event: KeyboardEvent): void {
  const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!step) return
  const next = (props.weekday + step + 7) % 7
  emit('choose', next)
  root.value?.querySelectorAll<SVGElement>('[role=radio]')[next]?.focus()
  event.preventDefault()
}
</script>

<template>
  <div ref="root" class="strip" role="radiogroup" aria-label="Days of the week" @keydown="key">
    <ChartPicture
      :name="`week ${week.pool} ${week.days[0]?.date ?? ''}`"
      label="The days of the week"
      :width="width"
      :height="HEIGHT"
      :table="table"
      menu-above
    >
      <g v-for="day in week.days" :key="day.date">
        <rect
          v-if="day.weekday === weekday"
          :x="day.weekday * column"
          y="0"
          :width="column"
          :height="HEIGHT"
          class="chosen"
        />
      </g>
      <template #canvas>
        <CanvasLayer :x="0" :y="HEAD" :width="width" :height="DEEP" :draw="draw" />
      </template>
      <template #over>
        <g
          v-for="day in week.days"
          :key="day.date"
          :transform="`translate(${day.weekday * column} 0)`"
          class="choosable"
          role="radio"
          data-testid="day"
          :aria-checked="day.weekday === weekday"
          :tabindex="day.weekday === weekday ? 0 : -1"
          :aria-label="describe(day)"
          @click="emit('choose', day.weekday)"
        >
          <rect x="1" y="1" :width="Math.max(column - 2, 0)" :height="HEIGHT - 2" class="catch" />
          <line v-if="day.weekday > 0" x1="0" x2="0" y1="0" :y2="HEIGHT" class="level" />
          <rect v-if="day.weekday === weekday" :width="column" height="3" class="mark" />
          <text x="8" y="17" class="axis-text strong">{{ WEEKDAYS[day.weekday] }}</text>
          <text v-if="column > DATED" x="39" y="17" class="axis-text">{{ dayName(day.date) }}</text>
          <text v-if="day.clock_change" :x="column - 8" y="17" class="axis-text strong end">
            <title>The clock changes on this day</title>
            {{ day.clock_change < 0 ? '−1 h' : '+1 h' }}
          </text>
          <text x="8" :y="HEIGHT - 8" class="axis-text" :class="{ harm: day.peak_waiting > 0 }">
            {{ said(day).waits }}
          </text>
          <text v-if="column > DATED" :x="column - 8" :y="HEIGHT - 8" class="axis-text end">
            {{ said(day).idle }}
          </text>
        </g>
      </template>
    </ChartPicture>
  </div>
</template>

<style scoped>
.strip {
  border-top: 1px solid var(--hair-strong);
  overflow: hidden;
  flex: none;
}
.chosen {
  fill: var(--paper-raised);
}
.mark {
  fill: var(--brass);
}
.axis-text.harm {
  fill: var(--buoy);
  font-weight: 650;
}
</style>
