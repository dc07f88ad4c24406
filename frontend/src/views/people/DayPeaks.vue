<script setup lang="ts">
import { linear } from '@/chart/scale'
import { computed } from 'vue'

import type { CrowdAnswer } from '@/api/client'
import ChartPicture from '@/chart/ChartPicture.vue'
import type { Table } from '@/chart/table'
import UpAxis from '@/chart/UpAxis.vue'
import { called } from '@/plan/called'
import { clock, count, fullDayName } from '@/ui/format'

import { chosenFirst, stackOrder, toneOf } from './stack'

/** The peak of each day, made of its groups: when it is and who makes it. */
const props = defineProps<{
  answer: CrowdAnswer
  chosen: string
  width: number
  height: number
}>()
const emit = defineEmits<{ choose: [group: string] }>()

const LEFT = 52
const TOP = 34
const BOTTOM = 22
const plotHeight = computed(() => props.height - TOP - BOTTOM)
const top = computed(() => Math.max(5, ...props.answer.days.map((d) => d.peak.people)) * 1.04)
const y = computed(() => linear([0, top.value], [plotHeight.value, 0]))
const order = computed(() => {
  const ranked = stackOrder(props.answer.groups).map(({ id }, place) => ({ id, place }))
  return chosenFirst(ranked, props.chosen)
})
const column = computed(() => (props.width - LEFT - 12) / Math.max(props.answer.days.length, 1))
const days = computed(() =>
  props.answer.days.map((day, k) => {
    let sum = 0
    const made = new Map(day.peak.makers.map((maker) => [maker.group, maker.people]))
    const parts = order.value
      .map(({ id, place }) => ({ id, place, people: made.get(id) ?? 0 }))
      .filter((part) => part.people > 0)
      .map((part) => {
        const low = sum
        sum += part.people
        return { ...part, low, high: sum }
      })
    return { day, parts, left: k * column.value }
  }),
)
const levels = computed(() => y.value.ticks(4).map((at) => ({ at, text: count(at) })))
const table = (): Table => ({
  head: ['date', 'peak at', 'people', 'group', 'of them'],
  rows: days.value.flatMap(({ day, parts }) =>
    parts.map((part) => [
      day.date,
      clock(day.peak.instant, props.answer.zone),
      day.peak.people,
      part.id,
      part.people,
    ]),
  ),
})
</script>

<template>
  <ChartPicture
    :name="`peaks ${answer.days[0]?.date ?? ''}`"
    label="The peak of each day by group"
    :width="width"
    :height="height"
    :left="LEFT"
    :top="TOP"
    :table="table"
  >
    <UpAxis :ticks="levels" :y="y" :width="width - LEFT - 12" title="people" />
    <g v-for="{ day, parts, left } in days" :key="day.date" data-testid="day-peak">
      <text :x="left + 5" y="-19" class="axis-text strong">{{ fullDayName(day.date) }}</text>
      <text :x="left + 5" y="-6" class="axis-text">
        {{
          day.peak.people
            ? `${count(day.peak.people)} at ${clock(day.peak.instant, answer.zone)}`
            : 'nobody'
        }}
      </text>
      <g v-for="part in parts" :key="part.id" @click="emit('choose', part.id)">
        <rect
          :x="left + 4"
          :y="y(part.high)"
          :width="Math.max(column - 14, 4)"
          :height="Math.max(y(part.low) - y(part.high), 0.5)"
          class="part"
          :class="{ faded: chosen !== '' && part.id !== chosen }"
          :style="{ fill: toneOf(part.place) }"
        >
          <title>{{ called('groups', part.id) }}: {{ count(part.people) }}</title>
        </rect>
        <text
          v-if="y(part.low) - y(part.high) > 15"
          :x="left + 9"
          :y="(y(part.low) + y(part.high)) / 2 + 4"
          class="axis-text name on-picture"
        >
          {{ called('groups', part.id).slice(0, 14) }} {{ count(part.people) }}
        </text>
      </g>
    </g>
    <line x1="0" :x2="width - LEFT - 12" :y1="plotHeight" :y2="plotHeight" class="ground" />
  </ChartPicture>
</template>

<style scoped>
.part {
  stroke: var(--paper);
  stroke-width: 0.6;
  cursor: pointer;
}
.faded {
  opacity: 0.45;
}
.axis-text.name {
  fill: var(--ink);
  stroke-opacity: 0.85;
  pointer-events: none;
}
</style>
