<script setup lang="ts">
import { PLAN } from '@/plan/lens'
import { linear } from '@/chart/scale'
import { computed, ref, watch } from 'vue'

import type { DropIn } from '@/api/client'
import ChartHandle from '@/chart/ChartHandle.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import type { Table } from '@/chart/table'
import UpAxis from '@/chart/UpAxis.vue'
import ChoiceRow from '@/parts/ChoiceRow.vue'
import { WEEKDAYS, WEEKDAY_IDS, count } from '@/ui/format'

/** Arrivals by the hour of a weekday, each bar dragged to its height. */
const props = defineProps<{ demand: DropIn; width: number; height: number }>()
const emit = defineEmits<{ change: [edit: (demand: DropIn) => void, done: boolean]; cancel: [] }>()

const LEFT = 52
const TOP = 30
const BOTTOM = 20
const weekday = ref(0)
const id = computed(() => WEEKDAY_IDS[weekday.value] ?? 'mon')
const quiet = new Array<number>(24).fill(0)
const rates = computed(() => props.demand.arrivals_per_hour[id.value] ?? quiet)
const plotHeight = computed(() => props.height - TOP - BOTTOM)
const held = ref(false)
const top = ref(10)
watch(
  [() => props.demand, held],
  () => {
    if (held.value) return
    const all = Object.values(props.demand.arrivals_per_hour).flat()
    top.value = Math.max(5, ...all) * 1.25
  },
  { immediate: true },
)
const y = computed(() => linear([0, top.value], [plotHeight.value, 0]))
const bar = computed(() => Math.min((props.width - LEFT - 20) / 24, 42))

const most = PLAN.field('groups.demand.arrivals_per_hour').bounds.high ?? Infinity
function set(hour: number, rate: number, done: boolean): void {
  held.value = !done
  const value = Math.max(0, Math.min(Math.round(rate), most))
  emit(
    'change',
    (demand) => {
      const day = [...(demand.arrivals_per_hour[id.value] ?? quiet)]
      day[hour] = value
      demand.arrivals_per_hour[id.value] = day
    },
    done,
  )
}
function cancel(): void {
  held.value = false
  emit('cancel')
}
const levels = computed(() => y.value.ticks(4).map((at) => ({ at, text: count(at) })))
const table = (): Table => ({
  head: ['weekday', 'hour', 'arrivals'],
  rows: WEEKDAY_IDS.flatMap((day) =>
    (props.demand.arrivals_per_hour[day] ?? quiet).map((rate, hour) => [day, hour, rate]),
  ),
})
function copyTo(others: readonly (typeof WEEKDAY_IDS)[number][]): void {
  const from = [...rates.value]
  emit(
    'change',
    (demand) => {
      for (const day of others) demand.arrivals_per_hour[day] = [...from]
    },
    true,
  )
}
</script>

<template>
  <div>
    <div class="choose">
      <ChoiceRow
        label="Weekday"
        :options="WEEKDAYS.map((text, k) => ({ value: `${k}`, text }))"
        :model-value="`${weekday}`"
        @update:model-value="(k) => (weekday = Number(k))"
      />
      <button class="link act" @click="copyTo(WEEKDAY_IDS.slice(0, 5))">
        Make Monday to Friday like this
      </button>
    </div>
    <ChartPicture
      :name="`arrivals ${WEEKDAYS[weekday]}`"
      label="Arrivals by hour"
      :width="width"
      :height="height"
      :left="LEFT"
      :top="TOP"
      :table="table"
    >
      <UpAxis :ticks="levels" :y="y" :width="bar * 24" title="per hour" />
      <line x1="0" :x2="bar * 24" :y1="plotHeight" :y2="plotHeight" class="ground" />
      <template #over>
        <ChartHandle
          v-for="(rate, hour) in rates"
          :key="hour"
          upright
          data-testid="rate"
          :label="`Arrivals from ${hour}:00 to ${hour + 1}:00`"
          :text="`${count(rate)} an hour`"
          :value="rate"
          :min="0"
          :max="most"
          :value-at="(at) => y.invert(at.y)"
          @move="(value, done) => set(hour, value, done)"
          @cancel="cancel"
        >
          <rect :x="hour * bar" y="0" :width="bar" :height="plotHeight" class="catch" />
          <rect
            :x="hour * bar + 1"
            :y="y(rate)"
            :width="Math.max(bar - 2, 1)"
            :height="Math.max(plotHeight - y(rate), 1.5)"
            class="bar"
          />
          <text v-if="rate > 0" :x="(hour + 0.5) * bar" :y="y(rate) - 4" class="tag">
            {{ count(rate) }}
          </text>
          <text :x="hour * bar" :y="plotHeight + 15" class="axis-text middle">
            {{ hour % 2 ? '' : String(hour).padStart(2, '0') }}
          </text>
        </ChartHandle>
      </template>
    </ChartPicture>
  </div>
</template>

<style scoped>
.choose {
  display: flex;
  gap: 8px;
  padding-left: 52px;
}
.act {
  margin-left: 12px;
}
.bar {
  fill: var(--water-2);
}
.handle:hover .bar {
  fill: var(--water-1);
}
.handle:focus-visible .bar {
  stroke: var(--focus);
  stroke-width: 3;
}
</style>
