<script setup lang="ts">
import { computed } from 'vue'

import type { CrowdYear } from '@/api/client'
import type { Cell } from '@/chart/cells'
import HeatMap from '@/chart/HeatMap.vue'
import type { Pen } from '@/chart/pen'
import type { Table } from '@/chart/table'
import { called } from '@/plan/called'
import { count, counted, fullDayName } from '@/ui/format'

import { atNight, clockHours, shownAt } from './nights'

/** A year as a map: a column for every date, a row for every hour, darker where more people are. */
const props = defineProps<{ year: CrowdYear; first: string; width: number; height: number }>()
const emit = defineEmits<{ week: [date: string] }>()

const days = computed(() => props.year.days)
const most = computed(() => Math.max(1, ...days.value.map((day) => day.peak)))
/** Where people work across midnight a day begins at noon. */
const night = computed(() => atNight(days.value.map((day) => day.hours)))
const clocks = computed(() => clockHours(night.value))
const peopleAt = ({ column, row }: Cell) => shownAt(days.value, column, row, night.value)

const paint = computed(() => {
  // All that is drawn is read here: another year with the same peak is drawn anew.
  const [all, top, late] = [days.value, most.value, night.value]
  return (pen: Pen, { column, row }: Cell, ...box: [number, number, number, number]) => {
    const there = shownAt(all, column, row, late)
    if (there) pen.box(...box, { colour: '--water-1', alpha: 0.06 + 0.94 * (there / top) })
  }
})

const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' })
const months = computed(() =>
  days.value.flatMap((day, at) =>
    day.date.endsWith('-01') ? [{ at, text: MONTH.format(new Date(day.date)) }] : [],
  ),
)
const hourText = (hour: number) => `${String(hour).padStart(2, '0')}:00`
const hours = computed(() =>
  clocks.value.flatMap((hour, at) => (at % 6 ? [] : [{ at, text: hourText(hour) }])),
)
const marks = computed(() =>
  days.value.flatMap(({ marks }, column) =>
    marks.length ? [{ column, full: marks[0]?.kind === 'event' }] : [],
  ),
)
const chosen = computed(() => {
  const from = days.value.findIndex((day) => day.date === props.first)
  return from < 0 ? null : { from, many: 7 }
})
function words(at: Cell | null): string {
  const day = at ? days.value[at.column] : undefined
  if (!at || !day) return 'Choose a date to see its week'
  const people = peopleAt(at)
  const hour = clocks.value[at.row] ?? 0
  const marked = day.marks.map((m) => (m.kind === 'event' ? called('events', m.name) : m.name))
  const there =
    people === null
      ? 'this hour is skipped'
      : `${count(people)} people between ${hourText(hour)} and ${hourText(hour + 1)}`
  const after = night.value && hour < 12 ? 'on the morning after' : ''
  return [fullDayName(day.date), [there, after].filter(Boolean).join(' '), ...marked].join(' · ')
}
const table = (): Table => ({
  head: ['date', ...Array.from({ length: 24 }, (_, hour) => `${hour}:00`), 'marks'],
  rows: days.value.map((day) => [
    day.date,
    ...day.hours.map((people) => people ?? null),
    day.marks.map((m) => m.name).join('; '),
  ]),
})
function week({ column }: Cell): void {
  const date = days.value[column]?.date
  if (date) emit('week', date)
}
</script>

<template>
  <HeatMap
    :name="`year from ${days[0]?.date ?? ''}`"
    label="The year, an hour of a date at a time"
    data-testid="year"
    :width="width"
    :height="height"
    :columns="days.length"
    :rows="24"
    :paint="paint"
    :column-ticks="months"
    stretches
    :row-ticks="hours"
    :marks="marks"
    :chosen="chosen"
    :first="{ column: 0, row: 9 }"
    :words="words"
    :aside="`darkest: ${counted(most, 'person', 'people')}`"
    :table="table"
    @choose="week"
  />
</template>
