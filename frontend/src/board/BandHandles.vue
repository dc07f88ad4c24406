<script setup lang="ts">
import { computed } from 'vue'

import { follow, stepsOf, type Point } from '@/ui/drag'
import { clock, share } from '@/ui/format'

import type { DayBand } from './day'
import type { Scale } from './water'

/** Band edges, floors and fill ceilings as handles in the chart, for mouse and keyboard. */
const props = defineProps<{
  bands: DayBand[]
  selected: number
  x: Scale
  y: Scale
  height: number
  limit: number
  standing: number
  zone: string
  quayAt: (instant: number) => number
}>()
const emit = defineEmits<{
  select: [index: number]
  edge: [index: number, instant: number, done: boolean]
  nudgeEdge: [index: number, minutes: number]
  floor: [index: number, hosts: number, done: boolean]
  ceiling: [index: number, share: number, done: boolean]
  split: [index: number]
  remove: [index: number]
  cancel: []
}>()

interface Handle {
  band: DayBand
  left: number
  right: number
  floorY: number
  ceilingY: number
  gripX: number
  ceilingX: number
  base: number
}

/** What a fill ceiling is a share of: the quay at its grip, or the floor where that is bare. */
function baseOf(band: DayBand): number {
  const quay = props.quayAt((band.start + 2 * band.end) / 3)
  return quay || Math.max(band.band.floor, 1) * props.limit
}

const handles = computed<Handle[]>(() =>
  props.bands.map((band) => {
    const left = props.x(band.start)
    const right = props.x(band.end)
    const base = baseOf(band)
    return {
      band,
      left,
      right,
      base,
      floorY: props.y(band.band.floor * props.limit),
      ceilingY: props.y(band.band.fill_ceiling * base),
      gripX: left + (right - left) / 3,
      ceilingX: left + ((right - left) * 2) / 3,
    }
  }),
)

type Move = (at: Point, done: boolean) => void

function drag(event: PointerEvent, index: number, move: Move): void {
  if (event.button !== 0) return
  emit('select', index)
  const frame = (event.currentTarget as SVGElement).ownerSVGElement
  const left = Number(frame?.querySelector('.plot')?.getAttribute('data-left') ?? 0)
  const origin = { x: left, y: Number(frame?.dataset.top ?? 0) }
  follow(event, origin, move, () => emit('cancel'))
}

/** Inverse of a linear scale, from two of its values. */
function inverse(scale: Scale, a: number, b: number, pixel: number): number {
  const pa = scale(a)
  const pb = scale(b)
  return a + ((pixel - pa) / (pb - pa)) * (b - a)
}

function dragEdge(event: PointerEvent, h: Handle): void {
  const [a, b] = [props.bands[0]?.start ?? 0, props.bands.at(-1)?.end ?? 1]
  drag(event, h.band.index, (at, done) =>
    emit('edge', h.band.index, inverse(props.x, a, b, at.x), done),
  )
}

function dragFloor(event: PointerEvent, h: Handle): void {
  drag(event, h.band.index, (at, done) =>
    emit('floor', h.band.index, inverse(props.y, 0, 100, at.y) / props.limit, done),
  )
}

function dragCeiling(event: PointerEvent, h: Handle): void {
  const base = h.base
  drag(event, h.band.index, (at, done) =>
    emit('ceiling', h.band.index, inverse(props.y, 0, 100, at.y) / base, done),
  )
}

function key(event: KeyboardEvent, index: number, nudge: (steps: number) => void): void {
  const steps = stepsOf(event)
  if (steps !== undefined) {
    nudge(steps)
  } else if (event.key === 'Insert' || event.key === '+') {
    emit('split', index)
  } else if (event.key === 'Delete' || event.key === '-') {
    emit('remove', index)
  } else {
    return
  }
  event.preventDefault()
}
</script>

<template>
  <g class="handles">
    <g
      v-for="h in handles"
      :key="h.band.index"
      :class="{ chosen: h.band.index === selected }"
      data-testid="band-handles"
    >
      <g
        v-if="h.band.index > 0"
        class="grip edge"
        tabindex="0"
        role="slider"
        data-testid="edge"
        :aria-label="`Band ${h.band.index + 1} begins`"
        aria-orientation="horizontal"
        :aria-valuenow="h.band.start"
        :aria-valuetext="clock(h.band.start, zone)"
        @focus="emit('select', h.band.index)"
        @pointerdown="dragEdge($event, h)"
        @keydown="key($event, h.band.index, (n) => emit('nudgeEdge', h.band.index, n * 5))"
      >
        <line :x1="h.left" :x2="h.left" y1="0" :y2="height" class="edge-line" />
        <rect :x="h.left - 7" y="0" width="14" :height="height" class="catch" />
        <path :d="`M${h.left - 6} 0h12v9l-6 6l-6 -6z`" class="flag" />
      </g>
      <g
        class="grip floor"
        tabindex="0"
        role="slider"
        data-testid="floor"
        :aria-label="`Floor of band ${h.band.index + 1}, in hosts`"
        aria-orientation="vertical"
        aria-valuemin="0"
        :aria-valuemax="standing"
        :aria-valuenow="h.band.band.floor"
        :aria-valuetext="`${h.band.band.floor} hosts`"
        @focus="emit('select', h.band.index)"
        @pointerdown="dragFloor($event, h)"
        @keydown="
          key($event, h.band.index, (n) => emit('floor', h.band.index, h.band.band.floor + n, true))
        "
      >
        <line :x1="h.left + 1" :x2="h.right - 1" :y1="h.floorY" :y2="h.floorY" class="floor-line" />
        <rect
          :x="h.left"
          :y="h.floorY - 6"
          :width="Math.max(h.right - h.left, 0)"
          height="12"
          class="catch"
        />
        <path :d="`M${h.gripX - 11} ${h.floorY}v-7h22v7z`" class="flag" />
        <text :x="h.gripX" :y="h.floorY - 10" class="tag">{{ h.band.band.floor }} ready</text>
      </g>
      <g
        class="grip ceiling"
        tabindex="0"
        role="slider"
        data-testid="ceiling"
        :aria-label="`Fill ceiling of band ${h.band.index + 1}`"
        aria-orientation="vertical"
        aria-valuemin="5"
        aria-valuemax="100"
        :aria-valuenow="Math.round(h.band.band.fill_ceiling * 100)"
        :aria-valuetext="share(h.band.band.fill_ceiling)"
        @focus="emit('select', h.band.index)"
        @pointerdown="dragCeiling($event, h)"
        @keydown="
          key($event, h.band.index, (n) =>
            emit('ceiling', h.band.index, h.band.band.fill_ceiling + n / 100, true),
          )
        "
      >
        <line
          :x1="h.ceilingX - 26"
          :x2="h.ceilingX + 26"
          :y1="h.ceilingY"
          :y2="h.ceilingY"
          class="ceiling-line"
        />
        <rect :x="h.ceilingX - 26" :y="h.ceilingY - 6" width="52" height="12" class="catch" />
        <path :d="`M${h.ceilingX - 8} ${h.ceilingY}h16l-8 8z`" class="flag" />
        <text :x="h.ceilingX" :y="h.ceilingY - 6" class="tag">
          {{ Math.round(h.band.band.fill_ceiling * 100) }} % full
        </text>
      </g>
    </g>
  </g>
</template>

<style scoped>
.grip {
  outline: none;
}
.catch {
  fill: transparent;
}
.edge {
  cursor: ew-resize;
}
.floor,
.ceiling {
  cursor: ns-resize;
}
.edge-line {
  stroke: var(--ink);
  stroke-width: 1;
  stroke-dasharray: 2 3;
}
.floor-line {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.ceiling-line {
  stroke: var(--ink);
  stroke-width: 1.4;
  stroke-dasharray: 5 3;
}
.flag {
  fill: var(--paper-raised);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.chosen .flag {
  fill: var(--brass);
}
.tag {
  font-size: 11px;
  text-anchor: middle;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
  stroke-linejoin: round;
  pointer-events: none;
}
.grip:focus-visible .flag {
  stroke-width: 3;
  stroke: var(--focus);
}
.grip:focus-visible .floor-line,
.grip:focus-visible .ceiling-line,
.grip:focus-visible .edge-line {
  stroke-width: 3;
  stroke-dasharray: none;
}
.grip:hover .flag {
  fill: var(--brass);
}
</style>
