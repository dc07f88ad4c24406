<script setup lang="ts">
import { computed, ref } from 'vue'

import CanvasLayer from '@/chart/CanvasLayer.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import type { Pen } from '@/chart/pen'
import { useWidth } from '@/ui/useWidth'

import { drawYear, tableOf, weekWords, type Weeks } from './year'

/** The weeks of a year as small floods: one is chosen to be looked at. */
const props = defineProps<{
  weeks: Weeks
  year: number
  pool: string
  currency: string
  /** The Monday of the week that is looked at. */
  first: string
}>()
const emit = defineEmits<{ choose: [monday: string] }>()

const root = ref<HTMLElement>()
const width = useWidth(root, 960)
const HEIGHT = 34
/** The picture's own menu stands at the right. */
const MENU = 26
const plot = computed(() => Math.max(width.value - MENU, 50))
const column = computed(() => plot.value / props.weeks.length)
const draw = computed(() => {
  const [weeks, wide] = [props.weeks, plot.value]
  return (pen: Pen) => drawYear(pen, weeks, wide, HEIGHT - 6)
})
const chosen = computed(() =>
  Math.max(
    0,
    props.weeks.findIndex((each) => each?.first === props.first),
  ),
)
function key(event: KeyboardEvent): void {
  const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!step) return
  const next = Math.max(0, Math.min(chosen.value + step, props.weeks.length - 1))
  const week = props.weeks[next]
  if (week) emit('choose', week.first)
  root.value?.querySelectorAll<SVGElement>('[role=radio]')[next]?.focus()
  event.preventDefault()
}
</script>

<template>
  <div ref="root" role="radiogroup" :aria-label="`Weeks of ${year}`" @keydown="key">
    <ChartPicture
      :name="`${pool} ${year}`"
      :label="`The weeks of ${year}`"
      :width="width"
      :height="HEIGHT"
      :table="() => tableOf(weeks)"
      menu-above
      data-testid="year-strip"
    >
      <template #canvas>
        <CanvasLayer :x="0" :y="2" :width="plot" :height="HEIGHT - 6" :draw="draw" />
      </template>
      <template #over>
        <g
          v-for="(week, k) in weeks"
          :key="k"
          :transform="`translate(${k * column} 0)`"
          class="choosable"
          role="radio"
          :aria-checked="week?.first === first"
          :aria-disabled="!week"
          :tabindex="k === chosen ? 0 : -1"
          :aria-label="week ? weekWords(week, currency) : `Week ${k + 1}: not simulated yet`"
          @click="week && emit('choose', week.first)"
        >
          <title>{{ week ? weekWords(week, currency) : 'not simulated yet' }}</title>
          <rect x="0" y="0" :width="column" :height="HEIGHT" class="catch" />
          <rect v-if="week?.first === first" :width="column" height="2.5" class="mark" />
          <rect
            v-if="week && !week.kept"
            x="1"
            :y="HEIGHT - 3"
            :width="Math.max(column - 2, 0)"
            height="3"
            class="broken"
          />
        </g>
      </template>
    </ChartPicture>
  </div>
</template>

<style scoped>
.mark {
  fill: var(--brass);
}
.broken {
  fill: var(--buoy);
}
</style>
