<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'

import type { CrowdAnswer } from '@/api/client'
import { clock, count, fullDayName, words } from '@/ui/format'

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
const y = computed(() => scaleLinear().domain([0, top.value]).range([plotHeight.value, 0]))
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
    return { day, parts, left: LEFT + k * column.value }
  }),
)
</script>

<template>
  <svg :width="width" :height="height" role="group" aria-label="The peak of each day by group">
    <g aria-hidden="true">
      <g v-for="level in y.ticks(4)" :key="level">
        <line :x1="LEFT" :x2="width - 12" :y1="TOP + y(level)" :y2="TOP + y(level)" class="level" />
        <text :x="LEFT - 8" :y="TOP + y(level) + 4" class="axis end">{{ count(level) }}</text>
      </g>
    </g>
    <g v-for="{ day, parts, left } in days" :key="day.date" data-testid="day-peak">
      <text :x="left + 5" y="15" class="day">
        {{ fullDayName(day.date) }}
      </text>
      <text :x="left + 5" y="28" class="axis">
        {{
          day.peak.people
            ? `${count(day.peak.people)} at ${clock(day.peak.instant, answer.zone)}`
            : 'nobody'
        }}
      </text>
      <g v-for="part in parts" :key="part.id" @click="emit('choose', part.id)">
        <rect
          :x="left + 4"
          :y="TOP + y(part.high)"
          :width="Math.max(column - 14, 4)"
          :height="Math.max(y(part.low) - y(part.high), 0.5)"
          class="part"
          :class="{ faded: chosen !== '' && part.id !== chosen }"
          :style="{ fill: toneOf(part.place) }"
        >
          <title>{{ words(part.id) }}: {{ count(part.people) }}</title>
        </rect>
        <text
          v-if="y(part.low) - y(part.high) > 15"
          :x="left + 9"
          :y="TOP + (y(part.low) + y(part.high)) / 2 + 4"
          class="name"
        >
          {{ words(part.id).slice(0, 14) }} {{ count(part.people) }}
        </text>
      </g>
    </g>
    <line
      :x1="LEFT"
      :x2="width - 12"
      :y1="TOP + plotHeight"
      :y2="TOP + plotHeight"
      class="ground"
    />
  </svg>
</template>

<style scoped>
.axis,
.day,
.name {
  font-size: 11.5px;
  fill: var(--ink-quiet);
}
.day {
  fill: var(--ink);
  font-weight: 600;
}
.end {
  text-anchor: end;
}
.level {
  stroke: var(--hair);
}
.ground {
  stroke: var(--ink);
}
.part {
  stroke: var(--paper);
  stroke-width: 0.6;
  cursor: pointer;
}
.faded {
  opacity: 0.45;
}
.name {
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
  stroke-opacity: 0.85;
  pointer-events: none;
}
</style>
