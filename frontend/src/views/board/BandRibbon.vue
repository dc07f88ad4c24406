<script setup lang="ts">
import { computed } from 'vue'

import type { View } from '@/chart/timeframe'
import { clock } from '@/ui/format'

import type { DayBand } from '@/water/day'

/** The day's bands as a ribbon: choose one, split it, take it away. */
const props = defineProps<{
  bands: DayBand[]
  /** The stretch of the day that is shown. */
  view: View
  zone: string
  selected: number
  width: number
  left: number
  right: number
  /** Whether the bands are those of other pools too, and stay. */
  fixed: boolean
}>()
const emit = defineEmits<{
  select: [index: number]
  split: [index: number]
  remove: [index: number]
}>()

/** The clock that the hours above are of, as short as there is room for it. */
const city = computed(() => props.zone.split('/').at(-1)?.replaceAll('_', ' '))
const plot = computed(() => props.width - props.left - props.right)
function place(band: DayBand) {
  const { from, to } = props.view
  const x = (at: number) => ((Math.max(from, Math.min(at, to)) - from) / (to - from)) * plot.value
  const width = Math.max(x(band.end) - x(band.start), 0)
  return {
    left: `${props.left + x(band.start)}px`,
    width: `${width}px`,
    // A band outside of the stretch is chosen with the arrows all the same.
    opacity: width ? undefined : 0,
  }
}
function move(event: KeyboardEvent, index: number): void {
  const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!step) return
  const next = Math.max(0, Math.min(index + step, props.bands.length - 1))
  emit('select', next)
  const row = (event.currentTarget as HTMLElement).parentElement
  row?.querySelectorAll<HTMLElement>('[role=tab]')[next]?.focus()
  event.preventDefault()
}
</script>

<template>
  <div class="ribbon">
    <span
      class="city quiet"
      :style="{ width: `${left - 8}px` }"
      :title="`Times on the clock of ${zone}`"
      >{{ city }}</span
    >
    <div role="tablist" aria-label="Bands of the day">
      <button
        v-for="band in bands"
        :key="band.index"
        class="plain band"
        :class="[band.band.rule, { chosen: band.index === selected }]"
        :style="place(band)"
        role="tab"
        aria-controls="band"
        data-testid="band"
        :aria-selected="band.index === selected"
        :tabindex="band.index === selected ? 0 : -1"
        @click="emit('select', band.index)"
        @dblclick="emit('split', band.index)"
        @keydown="move($event, band.index)"
      >
        <span class="from">{{ clock(band.start, zone) }}</span>
        <span class="what">{{ band.band.rule }} · {{ band.band.release }}</span>
      </button>
    </div>
    <div class="tools">
      <button
        class="plain tool"
        title="Split the chosen band in two"
        aria-label="Split the chosen band in two"
        data-testid="split"
        :disabled="fixed"
        @click="emit('split', selected)"
      >
        ⌿
      </button>
      <button
        class="plain tool"
        title="Take the chosen band away"
        aria-label="Take the chosen band away"
        data-testid="remove"
        :disabled="fixed || bands.length < 2"
        @click="emit('remove', selected)"
      >
        ✕
      </button>
    </div>
  </div>
</template>

<style scoped>
.ribbon {
  position: relative;
  height: 26px;
}
.city {
  position: absolute;
  left: 4px;
  top: 5px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  text-align: right;
  font-size: 11.5px;
}
.band {
  position: absolute;
  top: 0;
  height: 26px;
  overflow: hidden;
  white-space: nowrap;
  padding: 0 8px;
  border-left: 1px solid var(--ink);
  border-bottom: 1px solid var(--hair-strong);
  border-top: 1px solid var(--hair-strong);
  background: var(--paper-sunk);
  font-size: 12px;
}
.band.chosen {
  background: var(--brass-wash);
  border-bottom: 3px solid var(--brass);
}
.band:focus-visible {
  outline-offset: -2px;
}
.from {
  font-weight: 650;
  margin-right: 8px;
}
.what {
  color: var(--ink-quiet);
}
.chosen .what {
  color: var(--ink);
}
.tools {
  position: absolute;
  right: 0;
  top: 2px;
  display: flex;
  gap: 2px;
}
.tool {
  width: 20px;
  height: 22px;
  text-align: center;
}
.tool:hover:not(:disabled) {
  background: var(--paper-sunk);
}
.tool:disabled {
  color: var(--ink-quiet);
  opacity: 0.5;
}
</style>
