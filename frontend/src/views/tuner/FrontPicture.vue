<script setup lang="ts">
import { computed } from 'vue'

import type { StudyMark } from '@/api/client'

import { freeHeight, linesIn, linesTo, outside, spanOf, type Span } from './front'

/** Money against what is weighed with it: each mark a plan, those further down and left are better. */
const props = defineProps<{
  marks: readonly StudyMark[]
  /** What the ideal line costs: nobody can go below it. */
  ideal: number | null
  limit: number | null
  axisName: string
  sayAcross: (value: number) => string
  sayMoney: (value: number) => string
  chosen: string
  width: number
}>()
const emit = defineEmits<{ choose: [key: string] }>()

const HEIGHT = 330
const LEFT = 64
const RIGHT = 84
const TOP = 14
const BOTTOM = 40
const wide = computed(() => Math.max(props.width - LEFT - RIGHT, 120))
const tall = HEIGHT - TOP - BOTTOM
const span = computed(() => spanOf(props.marks, props.limit))
const within = (value: number, [least, most]: Span) =>
  Math.min(Math.max((value - least) / (most - least), 0), 1)
/** Short waits are seen beside long ones: places go with the square root. */
const x = (value: number) => LEFT + Math.sqrt(within(value, span.value.across)) * wide.value
const y = (value: number) => TOP + tall - within(value, span.value.money) * tall
const acrossTicks = computed(() => {
  const [least, most] = span.value.across
  if (least > 0) return linesIn(span.value.across, 5)
  const lines = linesTo(most, 5).filter((value) => value > 0)
  return [0, (lines[0] ?? most) / 4, ...lines]
})
const moneyTicks = computed(() => linesIn(span.value.money, 5))
const isFar = (mark: StudyMark) =>
  outside(mark.money, span.value.money) ||
  (mark.across !== null && outside(mark.across, span.value.across))
const place = (mark: StudyMark) => ({
  x: mark.across === null ? LEFT + wide.value + 26 : x(mark.across),
  y: y(mark.money),
})
/** Nothing stands below the ideal line, but where it is nearly nothing there is no room for a name. */
const idealName = computed(() => {
  const below = y(props.ideal ?? 0) + 13
  return below > TOP + tall ? below - 18 : below
})
/** The front, from the left to the right. */
const line = computed(() =>
  props.marks
    .filter((m) => m.front)
    .map(place)
    .sort((a, b) => a.x - b.x)
    .map((at, k) => `${k ? 'L' : 'M'}${at.x} ${at.y}`)
    .join(''),
)
/** Near the right edge its name stands to the left of it. */
const limitOnLeft = computed(() => props.limit !== null && x(props.limit) > LEFT + wide.value - 120)
const NAMED = new Set(['today', 'rule', 'tuned'])
/** About how wide a letter of a name is. */
const LETTER = 6.8
const farText = (mark: StudyMark) =>
  isFar(mark)
    ? ` ${props.sayMoney(mark.money)}, ${mark.across === null ? 'no bound' : props.sayAcross(mark.across)}`
    : ''
/** What the name of the limit takes, at the top of its line. */
const limitName = computed(() => {
  if (props.limit === null) return []
  const [at, long] = [x(props.limit), 150]
  return [
    {
      y: TOP + 6,
      from: limitOnLeft.value ? at - long : at,
      to: limitOnLeft.value ? at : at + long,
    },
  ]
})
/** Names that would lie on each other are moved apart. */
const names = computed(() => {
  const taken = [...limitName.value]
  return props.marks
    .filter((m) => NAMED.has(m.look))
    .map((mark) => {
      const at = place(mark)
      const right = at.x > LEFT + wide.value - 60
      const long = (mark.name.length + farText(mark).length) * LETTER + 14
      const [from, to] = right ? [at.x - long, at.x] : [at.x, at.x + long]
      const beside = taken.filter((t) => t.from < to && from < t.to).map((t) => t.y)
      const y = freeHeight(at.y, beside, 14, [TOP, TOP + tall])
      taken.push({ y, from, to })
      return { mark, x: at.x, y, right }
    })
})
</script>

<template>
  <svg
    class="front"
    :width="width"
    :height="HEIGHT"
    role="group"
    :aria-label="`Money of a month against ${axisName}`"
    data-testid="front"
  >
    <g class="axes" aria-hidden="true">
      <template v-for="value in moneyTicks" :key="value">
        <line :x1="LEFT" :x2="LEFT + wide" :y1="y(value)" :y2="y(value)" />
        <text :x="LEFT - 6" :y="y(value) + 4" text-anchor="end">{{ sayMoney(value) }}</text>
      </template>
      <text
        v-for="value in acrossTicks"
        :key="`x${value}`"
        :x="x(value)"
        :y="HEIGHT - BOTTOM + 16"
        text-anchor="middle"
      >
        {{ sayAcross(value) }}
      </text>
      <text :x="LEFT + wide / 2" :y="HEIGHT - 6" text-anchor="middle">{{ axisName }}</text>
      <text
        v-if="marks.some((m) => m.across === null)"
        :x="LEFT + wide + 26"
        :y="HEIGHT - BOTTOM + 16"
        text-anchor="middle"
      >
        no bound
      </text>
    </g>
    <template v-if="limit !== null">
      <rect
        class="beyond"
        :x="x(limit)"
        :y="TOP"
        :width="Math.max(LEFT + wide - x(limit), 0)"
        :height="tall"
      />
      <line class="limit" :x1="x(limit)" :x2="x(limit)" :y1="TOP" :y2="TOP + tall" />
      <text
        class="said"
        :x="x(limit) + (limitOnLeft ? -4 : 4)"
        :y="TOP + 10"
        :text-anchor="limitOnLeft ? 'end' : 'start'"
      >
        promised: {{ sayAcross(limit) }}
      </text>
    </template>
    <template v-if="ideal !== null">
      <line class="ideal" :x1="LEFT" :x2="LEFT + wide" :y1="y(ideal)" :y2="y(ideal)" />
      <text class="said" :x="LEFT + wide" :y="idealName" text-anchor="end">
        ideal line {{ sayMoney(ideal) }}: nobody can go below
      </text>
    </template>
    <path class="line" :d="line" />
    <g
      v-for="mark in marks"
      :key="mark.key"
      class="mark"
      :class="[mark.look.replace(' ', '-'), { chosen: mark.key === chosen, away: isFar(mark) }]"
      :transform="`translate(${place(mark).x} ${place(mark).y})`"
      role="button"
      :tabindex="mark.point ? 0 : -1"
      :aria-pressed="mark.key === chosen"
      :aria-label="`${mark.name}: ${sayMoney(mark.money)} a month, ${mark.across === null ? 'no bound' : sayAcross(mark.across)}`"
      :data-testid="`mark-${mark.key}`"
      @click="emit('choose', mark.key)"
      @mouseenter="emit('choose', mark.key)"
      @focus="emit('choose', mark.key)"
      @keydown.enter="emit('choose', mark.key)"
    >
      <circle class="reach" r="11" />
      <path v-if="mark.look === 'rule'" d="M-5 4H5M-5 0H5M-5 -4H5" />
      <path v-else-if="mark.look === 'today'" d="M0 -7L7 0L0 7L-7 0Z" />
      <path v-else-if="mark.look === 'broken'" d="M-4 -4L4 4M-4 4L4 -4" />
      <circle v-else :r="mark.look === 'tuned' ? 7 : 4.5" />
    </g>
    <text
      v-for="each in names"
      :key="`n${each.mark.key}`"
      class="name"
      :x="each.x + (each.right ? -11 : 11)"
      :y="each.y + 4"
      :text-anchor="each.right ? 'end' : 'start'"
      aria-hidden="true"
    >
      {{ each.mark.name }}<tspan class="far">{{ farText(each.mark) }}</tspan>
    </text>
  </svg>
</template>

<style scoped>
.front {
  display: block;
  font-size: 12px;
}
.axes line {
  stroke: var(--hair);
}
.axes text {
  fill: var(--ink-quiet);
  font-variant-numeric: tabular-nums;
}
.beyond {
  fill: var(--buoy-wash);
  opacity: 0.35;
}
.limit {
  stroke: var(--buoy);
  stroke-width: 1.5;
}
.ideal {
  stroke: var(--ink);
  stroke-dasharray: 1 4;
  stroke-width: 2;
}
.said {
  fill: var(--ink-quiet);
}
.line {
  fill: none;
  stroke: var(--brass-line);
  stroke-width: 1.5;
}
.mark {
  cursor: pointer;
  outline: none;
}
.reach {
  fill: transparent;
  stroke: none;
}
.mark:focus-visible .reach,
.chosen .reach {
  stroke: var(--focus);
  stroke-width: 1.5;
}
.mark path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.today path {
  fill: var(--paper);
}
.broken path {
  stroke: var(--buoy);
}
.kept circle:not(.reach),
.search circle:not(.reach) {
  fill: var(--lichen);
}
.at-risk circle:not(.reach) {
  fill: var(--paper);
  stroke: var(--brass-line);
  stroke-width: 2;
}
.search circle:not(.reach) {
  opacity: 0.6;
}
.tuned circle:not(.reach) {
  fill: var(--lichen);
  stroke: var(--ink);
  stroke-width: 2;
}
.away {
  opacity: 0.75;
}
.far {
  font-weight: 400;
}
.name {
  fill: var(--ink);
  font-weight: 600;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
  pointer-events: none;
}
</style>
