<script setup lang="ts">
import type { Leaving } from '@/api/client'
import { follow, stepsOf } from '@/ui/drag'
import { count } from '@/ui/format'

import { moveDivider } from './pattern'

/** How people leave, as a bar of three parts whose dividers are dragged. */
const props = defineProps<{ leaving: Leaving; x: number; top: number; height: number }>()
const emit = defineEmits<{
  change: [edit: (leaving: Leaving) => void, done: boolean]
  cancel: []
}>()

const WIDTH = 16
const at = (share: number) => props.top + props.height * (1 - share)
const parts = () => {
  const { sign_off, disconnect, walk_away } = props.leaving
  return [
    { name: 'sign off', share: sign_off, low: 0, tone: 'off' },
    { name: 'disconnect', share: disconnect, low: sign_off, tone: 'gone' },
    { name: 'walk away', share: walk_away, low: sign_off + disconnect, tone: 'away' },
  ]
}
const dividers = () =>
  [
    { index: 0 as const, share: props.leaving.sign_off, name: 'Share that signs off' },
    {
      index: 1 as const,
      share: props.leaving.sign_off + props.leaving.disconnect,
      name: 'Share that does not walk away',
    },
  ] as const

function drag(event: PointerEvent, divider: 0 | 1): void {
  follow(
    event,
    { x: 0, y: props.top },
    (point, done) =>
      emit('change', (leaving) => moveDivider(leaving, divider, 1 - point.y / props.height), done),
    () => emit('cancel'),
  )
}
function key(event: KeyboardEvent, divider: 0 | 1, share: number): void {
  const steps = stepsOf(event)
  if (steps === undefined) return
  event.preventDefault()
  emit('change', (leaving) => moveDivider(leaving, divider, share + steps / 100), true)
}
</script>

<template>
  <g role="group" aria-label="How people leave at the end of the day">
    <text :x="x" :y="top - 26" class="head">at the end</text>
    <g v-for="part in parts()" :key="part.name">
      <rect
        :x="x"
        :y="at(part.low + part.share)"
        :width="WIDTH"
        :height="height * part.share"
        :class="part.tone"
      />
      <text
        v-if="part.share >= 0.05"
        :x="x + WIDTH + 6"
        :y="at(part.low + part.share / 2)"
        class="name"
      >
        <tspan :x="x + WIDTH + 6">{{ part.name }}</tspan>
        <tspan :x="x + WIDTH + 6" dy="12">{{ count(part.share * 100) }} %</tspan>
      </text>
    </g>
    <g
      v-for="divider in dividers()"
      :key="divider.index"
      class="grip"
      tabindex="0"
      role="slider"
      data-testid="leaving"
      aria-orientation="vertical"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-label="divider.name"
      :aria-valuenow="Math.round(divider.share * 100)"
      :aria-valuetext="`${count(divider.share * 100)} %`"
      @pointerdown="drag($event, divider.index)"
      @keydown="key($event, divider.index, divider.share)"
    >
      <rect :x="x - 6" :y="at(divider.share) - 6" :width="WIDTH + 12" height="12" class="catch" />
      <rect :x="x - 5" :y="at(divider.share) - 2" :width="WIDTH + 10" height="4" class="flag" />
    </g>
  </g>
</template>

<style scoped>
.head,
.name {
  font-size: 11.5px;
  fill: var(--ink-quiet);
}
.name {
  font-size: 11px;
}
.off {
  fill: var(--water-1);
}
.gone {
  fill: var(--water-3);
}
.away {
  fill: var(--water-2);
}
.catch {
  fill: transparent;
}
.flag {
  fill: var(--paper-raised);
  stroke: var(--ink);
}
.grip {
  cursor: ns-resize;
  outline: none;
}
.grip:hover .flag {
  fill: var(--brass-wash);
}
.grip:focus-visible .flag {
  stroke: var(--focus);
  stroke-width: 3;
}
</style>
