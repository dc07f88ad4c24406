<script setup lang="ts">
import { linear } from '@/chart/scale'
import { computed, ref, shallowRef, watch } from 'vue'

import type { CrowdAnswer, CrowdRange } from '@/api/client'
import ChartPicture from '@/chart/ChartPicture.vue'
import { useCursor } from '@/chart/cursor'
import type { Table } from '@/chart/table'
import UpAxis from '@/chart/UpAxis.vue'
import { called } from '@/plan/called'
import { clock, count, dayName, fullDayName, weekdayOf } from '@/ui/format'

import {
  bandPath,
  chosenFirst,
  dayOfBin,
  gathered,
  shortened,
  stackOrder,
  stackPaths,
  stackSums,
  stackTop,
  toneOf,
} from './stack'

/** The week's demand stacked by group: people at work, or logons asked for. */
const props = defineProps<{
  answer: CrowdAnswer
  /** The same week drawn many times: between what it runs. */
  range: CrowdRange | null
  mode: 'present' | 'arrivals'
  chosen: string
  headcount: number
  width: number
  height: number
}>()
const emit = defineEmits<{ choose: [group: string] }>()

const LEFT = 52
const RIGHT = 12
const TOP = 34
const BOTTOM = 18
/** Two bins at a time: more would be finer than a screen can show. */
const GATHER = 2

const plotWidth = computed(() => Math.max(props.width - LEFT - RIGHT, 50))
const plotHeight = computed(() => props.height - TOP - BOTTOM)
const ranked = computed(() => stackOrder(props.answer.groups))
const tones = computed(() =>
  Object.fromEntries(ranked.value.map((group, k) => [group.id, toneOf(k)])),
)
const order = computed(() => chosenFirst(ranked.value, props.chosen))
const layers = computed(() =>
  order.value.map((group) => (props.mode === 'present' ? mean(group.present) : group.arrivals)),
)
const comes = computed(() => layers.value.some((layer) => layer.some((value) => value > 0)))
const bins = computed(() => layers.value[0]?.length ?? 0)
const perBin = computed(() => (props.mode === 'present' ? GATHER : 1))
const mean = (values: readonly number[]) => gathered(values, GATHER).map((sum) => sum / GATHER)
const band = computed(() => {
  const found = props.mode === 'present' ? props.range?.band : null
  return found ? { share: found.share, low: mean(found.low), high: mean(found.high) } : null
})
const sums = computed(() => stackSums(layers.value, bins.value))
const top = computed(() => Math.max(stackTop(sums.value), ...(band.value?.high ?? []), 5) * 1.06)
const x = computed(() => linear([0, bins.value], [0, plotWidth.value]))
const y = computed(() => linear([0, top.value], [plotHeight.value, 0]))
const paths = computed(() =>
  stackPaths(
    order.value.map((group) => group.id),
    sums.value,
    x.value,
    y.value,
  ),
)
const bandOutline = computed(() =>
  band.value ? bandPath(band.value.low, band.value.high, x.value, y.value) : '',
)
const dayEdges = computed(() =>
  props.answer.days.map((day) => ({
    day,
    left: x.value(day.first_bin / perBin.value),
    right: x.value(day.last_bin / perBin.value),
  })),
)
const peakX = computed(() =>
  x.value((props.answer.peak.instant - props.answer.start) / props.answer.step / perBin.value),
)
const marked = (kind: string, name: string) => (kind === 'event' ? called('events', name) : name)

const picture = ref<InstanceType<typeof ChartPicture>>()
const {
  at: pointed,
  move,
  leave,
} = useCursor((event) => {
  const bin = Math.floor(x.value.invert(picture.value?.pointAt(event).x ?? -1))
  return bin >= 0 && bin < bins.value ? bin : null
})
const stepped = shallowRef<number | null>(null)
watch(pointed, () => (stepped.value = null))
const cursor = computed(() => stepped.value ?? pointed.value)
function step(event: KeyboardEvent): void {
  const by = { ArrowLeft: -6, ArrowRight: 6, PageUp: -144, PageDown: 144 }[event.key]
  if (by === undefined) return
  stepped.value = Math.max(0, Math.min((cursor.value ?? 0) + by, bins.value - 1))
  event.preventDefault()
}
const levels = computed(() => y.value.ticks(4).map((at) => ({ at, text: count(at) })))
const instantAt = (bin: number) => props.answer.start + bin * perBin.value * props.answer.step
const dayAt = (bin: number) => props.answer.days[dayOfBin(props.answer, bin * perBin.value)]
const table = (): Table => ({
  head: ['date', 'time', ...order.value.map((group) => group.id)],
  rows: Array.from({ length: bins.value }, (_, bin) => [
    dayAt(bin)?.date ?? '',
    clock(instantAt(bin), props.answer.zone),
    ...layers.value.map((values) => values[bin] ?? 0),
  ]),
})
const between = (bin: number) =>
  band.value
    ? ` (${count(band.value.share * 100)} % of weeks: ${known(band.value.low[bin])} to ${known(band.value.high[bin])})`
    : ''
const readout = computed(() => {
  const bin = cursor.value
  if (bin === null) return null
  const [day, instant] = [dayAt(bin), instantAt(bin)]
  const parts = order.value
    .map((group, k) => ({ id: group.id, value: layers.value[k]?.[bin] ?? 0 }))
    .filter((part) => part.value >= 0.5)
    .sort((a, b) => b.value - a.value)
  const total = parts.reduce((sum, part) => sum + part.value, 0)
  const name = day ? `${dayName(day.date)}, ` : ''
  const named = parts.slice(0, 4).map((part) => `${called('groups', part.id)} ${count(part.value)}`)
  return {
    at: x.value(bin),
    text: `${name}${clock(instant, props.answer.zone)} · ${count(total)} ${
      props.mode === 'present' ? 'at work' : 'logons in 5 min'
    }${between(bin)}${named.length ? ` · ${named.join(' · ')}` : ''}`,
  }
})
const label = computed(
  () =>
    `People at work over the week by group. The most at once: ${count(props.answer.peak.people)}`,
)
const known = (people?: number | null) => (people == null ? '–' : count(people))
</script>

<template>
  <ChartPicture
    ref="picture"
    :name="`${mode === 'present' ? 'people at work' : 'logons'} ${answer.days[0]?.date ?? ''}`"
    :label="label"
    :width="width"
    :height="height"
    :left="LEFT"
    :top="TOP"
    :table="table"
    :empty="comes ? '' : 'Nobody comes in this week.'"
    tabindex="0"
    data-testid="crowd"
    @pointermove="move"
    @pointerleave="leave"
    @keydown="step"
  >
    <g v-for="{ day, left, right } in dayEdges" :key="day.date">
      <rect
        v-if="weekdayOf(day.date) >= 5"
        :x="left"
        y="0"
        :width="right - left"
        :height="plotHeight"
        class="rest"
      />
      <line :x1="left" :x2="left" y1="-30" :y2="plotHeight" class="edge" />
      <text :x="left + 5" y="-19" class="axis-text strong">{{ fullDayName(day.date) }}</text>
      <text v-if="day.marks.length" :x="left + 5" y="-6" class="axis-text title">
        <title>
          {{ day.marks.map((m) => `${marked(m.kind, m.name)}: ${m.where.join(', ')}`).join('\n') }}
        </title>
        {{ shortened(marked(day.marks[0]?.kind ?? '', day.marks[0]?.name ?? ''), 20)
        }}{{ day.marks.length > 1 ? ` +${day.marks.length - 1}` : '' }}
      </text>
    </g>
    <UpAxis
      :ticks="levels"
      :y="y"
      :width="plotWidth"
      :title="mode === 'present' ? 'people' : 'logons'"
    />
    <path
      v-for="layer in paths"
      :key="layer.id"
      :d="layer.path"
      class="layer"
      :class="{ faded: chosen !== '' && layer.id !== chosen }"
      :style="{ fill: tones[layer.id] }"
      @click="emit('choose', layer.id)"
    >
      <title>{{ called('groups', layer.id) }}</title>
    </path>
    <path v-if="bandOutline" :d="bandOutline" class="band" data-testid="band">
      <title>Between what nine of ten such weeks run</title>
    </path>
    <g v-if="mode === 'present' && answer.peak.people" class="peak" aria-hidden="true">
      <line :x1="peakX" :x2="peakX" y1="0" :y2="plotHeight" />
      <text
        :x="peakX + (peakX > plotWidth * 0.8 ? -6 : 6)"
        y="10"
        class="on-picture"
        :class="{ end: peakX > plotWidth * 0.8 }"
      >
        {{ count(answer.peak.people) }} at {{ clock(answer.peak.instant, answer.zone) }}
      </text>
    </g>
    <line x1="0" :x2="plotWidth" :y1="plotHeight" :y2="plotHeight" class="ground" />
    <template #over>
      <line
        v-if="readout"
        :x1="readout.at"
        :x2="readout.at"
        y1="0"
        :y2="plotHeight"
        class="pointer"
      />
      <text x="5" :y="plotHeight + 14" class="axis-text" aria-live="polite">
        {{ readout?.text ?? `Clock of ${answer.zone}; the cursor tells who is there` }}
      </text>
    </template>
  </ChartPicture>
</template>

<style scoped>
.rest {
  fill: var(--paper-sunk);
  opacity: 0.6;
}
.edge {
  stroke: var(--hair-strong);
}
.layer {
  stroke: var(--paper);
  stroke-width: 0.8;
  cursor: pointer;
}
.faded {
  opacity: 0.45;
}
.band {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.9;
  stroke-dasharray: 3 2;
  pointer-events: none;
}
.peak line {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
}
.peak text {
  font-size: 12px;
  font-weight: 650;
  fill: var(--ink);
}
</style>
