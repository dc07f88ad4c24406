<script setup lang="ts">
import { linear } from '@/chart/scale'
import { computed, ref, watch } from 'vue'

import type { Day, LoadRule, LoadSeries } from '@/api/client'
import CanvasLayer from '@/chart/CanvasLayer.vue'
import ChartHandle from '@/chart/ChartHandle.vue'
import { PLAN } from '@/plan/lens'
import ChartPicture from '@/chart/ChartPicture.vue'
import { useTimeframe } from '@/chart/timeframe'
import type { Pen } from '@/chart/pen'
import { nameOf } from '@/plan/called'
import { count, counted } from '@/ui/format'

import { beyond, drawLoads, looksOf, stepOf, tableOf, topOf, valueWords } from './loads'

/** A load rule on the curve of its own signal: its marks, each with the hold as a width. */
const props = defineProps<{
  rule: LoadRule
  told: LoadSeries
  day: Day
  zone: string
  width: number
  left: number
  right: number
  /** Whether the scale keeps still. */
  still: boolean
  /** Whether the rule is at work in other pools too, and stays. */
  fixed: boolean
}>()
const emit = defineEmits<{
  move: [values: Partial<LoadRule>, done: boolean]
  cancel: []
}>()

const TOP = 18
const HEIGHT = 62
const BOTTOM = 18
const MINUTE = 60

const plot = computed(() => Math.max(props.width - props.left - props.right, 50))
const looks = computed(() => looksOf(props.told, props.day))
const top = ref(1)
watch(
  [() => topOf(looks.value, props.rule), () => props.still],
  ([needed]) => {
    if (!props.still) top.value = needed
  },
  { immediate: true },
)
const { view } = useTimeframe(
  computed(() => props.day.start),
  computed(() => props.day.end),
)
const x = computed(() => linear([view.value.from, view.value.to], [0, plot.value]))
const inView = (at: number) => at >= view.value.from && at <= view.value.to
/** An instant at its place, or at the rim of what is shown. */
const within = (at: number) => Math.max(0, Math.min(x.value(at), plot.value))
const y = computed(() => linear([0, top.value], [HEIGHT, 0]))
const draw = computed(() => {
  const [all, rule, low, across, up] = [
    looks.value, props.rule, props.told.asks_where_low, x.value, y.value,
  ] // prettier-ignore
  return (pen: Pen) => drawLoads(pen, all, rule, low, across, up, HEIGHT)
})
const most = computed(() => looks.value.reduce((many, look) => Math.max(many, look.extra), 0))

/** A mark, the side of it that counts, and the field of its hold. */
const marks = computed(() => {
  let asked: number | null = null
  let after = props.day.start
  return (['asks_at', 'permits_at'] as const).flatMap((field) => {
    const at = props.rule[field]
    if (at === null) return []
    const asks = field === 'asks_at'
    const below = asks === props.told.asks_where_low
    const hold = asks ? ('asks_hold_minutes' as const) : ('permits_hold_minutes' as const)
    // Hosts go after they were asked for.
    if (!asks && asked !== null) after = asked
    const first = beyond(looks.value, at, below, after)
    if (asks) asked = first
    const from = first ?? props.day.start + 4 * 3600
    const minutes = props.rule[hold]
    return [
      {
        field,
        at,
        hold,
        minutes,
        from,
        below,
        name: asks ? 'asks' : 'lets go',
        label: `${nameOf(props.rule)}: ${asks ? 'asks for hosts' : 'lets hosts go'} ${below ? 'below' : 'above'}`,
        holdLabel: `${nameOf(props.rule)}: minutes ${below ? 'below' : 'above'} before it ${asks ? 'asks' : 'lets go'}`,
      },
    ]
  })
})
const step = computed(() => stepOf(props.told.unit, top.value))
const said = (value: number) => valueWords(value, props.told.unit)
const rounded = (value: number) => Math.round(value * 1e6) / 1e6
</script>

<template>
  <ChartPicture
    :name="`${nameOf(rule)} ${day.date}`"
    :label="`Load rule ${nameOf(rule)}: ${told.signal} over the day; it asks for ${count(most)} hosts at most`"
    :width="width"
    :height="TOP + HEIGHT + BOTTOM"
    :left="left"
    :top="TOP"
    :table="() => tableOf(told, looks, zone)"
    data-testid="load-rule"
  >
    <template #canvas>
      <CanvasLayer :x="left" :y="TOP" :width="plot" :height="HEIGHT + BOTTOM" :draw="draw" />
    </template>
    <text x="4" y="-6" class="axis-text">load rule {{ nameOf(rule) }} · by {{ told.signal }}</text>
    <text x="-8" y="4" class="axis-text end">{{ said(top) }}</text>
    <text x="-8" :y="HEIGHT + 4" class="axis-text end">0</text>
    <text x="-8" :y="HEIGHT + 17" class="axis-text end">asks for</text>
    <line x1="0" :x2="plot" :y1="HEIGHT" :y2="HEIGHT" class="ground" />
    <text v-if="most" :x="plot + 8" :y="HEIGHT + 14" class="axis-text">
      {{ counted(most, 'host') }}
    </text>
    <template #over>
      <g v-for="mark in marks" :key="mark.field">
        <ChartHandle
          upright
          :disabled="fixed"
          :data-testid="mark.field"
          :label="mark.label"
          :text="said(mark.at)"
          :value="mark.at"
          :min="0"
          :max="top"
          :step="step"
          :page="10 * step"
          :value-at="(to) => rounded(y.invert(to.y))"
          :place-of="y"
          @move="(to, done) => emit('move', { [mark.field]: rounded(to) }, done)"
          @cancel="emit('cancel')"
        >
          <line
            x1="0"
            :x2="plot"
            :y1="y(mark.at)"
            :y2="y(mark.at)"
            class="rail"
            :class="mark.field"
          />
          <rect x="0" :y="y(mark.at) - 5" :width="plot" height="10" class="catch" />
          <path
            v-if="mark.field === 'asks_at'"
            :d="`M${plot} ${y(mark.at)}l8 -5v10z`"
            class="grip"
          />
          <path v-else :d="`M${plot} ${y(mark.at) - 4}h8v8h-8z`" class="grip" />
          <text :x="plot - 4" :y="y(mark.at) - 4" class="axis-text end on-picture">
            {{ mark.name }} {{ mark.below ? 'below' : 'above' }} {{ said(mark.at) }}
          </text>
        </ChartHandle>
        <line
          :x1="within(mark.from)"
          :x2="within(mark.from + mark.minutes * MINUTE)"
          :y1="y(mark.at)"
          :y2="y(mark.at)"
          class="hold"
        />
        <ChartHandle
          v-if="inView(mark.from + mark.minutes * MINUTE)"
          :disabled="fixed"
          :data-testid="mark.hold"
          :label="mark.holdLabel"
          :text="`${mark.minutes} minutes`"
          :value="mark.minutes"
          :min="0"
          :max="PLAN.field(`schedules.load_rules.${mark.hold}`).bounds.high ?? Infinity"
          :step="5"
          :page="30"
          :value-at="(to) => (x.invert(to.x) - mark.from) / MINUTE"
          :place-of="(minutes) => x(mark.from + minutes * MINUTE)"
          @move="(to, done) => emit('move', { [mark.hold]: Math.round(to) }, done)"
          @cancel="emit('cancel')"
        >
          <rect
            :x="x(mark.from + mark.minutes * MINUTE) - 6"
            :y="y(mark.at) - 8"
            width="12"
            height="16"
            class="catch"
          />
          <path
            :d="`M${x(mark.from + mark.minutes * MINUTE) - 2.5} ${y(mark.at) - 6}h5v12h-5z`"
            class="grip"
          />
        </ChartHandle>
      </g>
    </template>
  </ChartPicture>
</template>

<style scoped>
.hold {
  stroke: var(--brass);
  stroke-width: 5;
  opacity: 0.85;
}
.asks_at {
  stroke-dasharray: 6 3;
}
.permits_at {
  stroke-dasharray: 2 3;
}
</style>
