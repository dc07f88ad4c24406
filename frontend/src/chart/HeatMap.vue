<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import type { Tick } from './axis'
import CanvasLayer from './CanvasLayer.vue'
import { cellAt, cellBox, moved, type Cell, type Grid } from './cells'
import ChartPicture from './ChartPicture.vue'
import { useCursor } from './cursor'
import type { Pen } from './pen'
import type { Table } from './table'

/** A grid of small cells, each with a tone of its own: one is pointed at, or reached by the arrows. */
const props = withDefaults(
  defineProps<{
    /** Names its files. */
    name: string
    label: string
    width: number
    height: number
    columns: number
    rows: number
    left?: number
    top?: number
    /** Draws a cell into its box, which is on whole pixels. */
    paint: (pen: Pen, cell: Cell, x: number, y: number, width: number, height: number) => void
    columnTicks: readonly Tick[]
    rowTicks: readonly Tick[]
    /** Whether a column tick is the beginning of a stretch of columns. */
    stretches?: boolean
    /** Columns with a mark above them: full or hollow. */
    marks?: readonly { column: number; full: boolean }[]
    /** The columns that are looked at now. */
    chosen?: { from: number; many: number } | null
    /** Where the arrows begin. */
    first?: Cell
    /** A cell in words, or what may be done where none is pointed at. */
    words: (cell: Cell | null) => string
    /** What the darkest tone means. */
    aside?: string
    table: () => Table
  }>(),
  {
    left: 52,
    top: 34,
    stretches: false,
    marks: () => [],
    chosen: null,
    first: () => ({ column: 0, row: 0 }),
    aside: '',
  },
)
const emit = defineEmits<{ choose: [cell: Cell] }>()

const BOTTOM = 20
const RIGHT = 12
const grid = computed<Grid>(() => ({
  columns: Math.max(props.columns, 1),
  rows: Math.max(props.rows, 1),
  width: Math.max(props.width - props.left - RIGHT, 60),
  height: props.height - props.top - BOTTOM,
}))
const column = computed(() => grid.value.width / grid.value.columns)
const row = computed(() => grid.value.height / grid.value.rows)
const draw = computed(() => {
  const [all, paint] = [grid.value, props.paint]
  return (pen: Pen) => {
    pen.box(0, 0, all.width, all.height, { colour: '--paper-sunk' })
    for (let c = 0; c < all.columns; c += 1)
      for (let r = 0; r < all.rows; r += 1) {
        const cell = { column: c, row: r }
        paint(pen, cell, ...cellBox(all, cell, devicePixelRatio || 1))
      }
  }
})

const picture = ref<InstanceType<typeof ChartPicture>>()
const place = (event: MouseEvent): Cell | null =>
  picture.value ? cellAt(grid.value, picture.value.pointAt(event)) : null
const { at: pointed, move, leave } = useCursor<Cell>(place)
const stepped = shallowRef<Cell | null>(null)
watch(pointed, () => (stepped.value = null))
const cursor = computed(() => stepped.value ?? pointed.value)
const readout = computed(() => props.words(cursor.value))
const choose = (cell: Cell | null) => cell && emit('choose', cell)
function key(event: KeyboardEvent): void {
  if (event.key === 'Enter') choose(cursor.value)
  else {
    const next = moved(grid.value, cursor.value ?? props.first, event.key)
    if (!next) return
    stepped.value = next
  }
  event.preventDefault()
}
</script>

<template>
  <div
    class="map"
    tabindex="0"
    role="application"
    :aria-label="`${label}. ${readout}`"
    @pointermove="move"
    @pointerleave="leave"
    @click="(e) => choose(place(e))"
    @keydown="key"
  >
    <ChartPicture
      ref="picture"
      :name="name"
      :label="label"
      :width="width"
      :height="height"
      :left="left"
      :top="top"
      :table="table"
    >
      <g v-for="tick in columnTicks" :key="`c${tick.at}`" aria-hidden="true">
        <text
          :x="(tick.at + (stretches ? 0 : 0.5)) * column + (stretches ? 3 : 0)"
          :y="stretches ? -20 : -5"
          class="axis-text"
          :class="{ middle: !stretches }"
        >
          {{ tick.text }}
        </text>
        <line
          v-if="stretches"
          :x1="tick.at * column"
          :x2="tick.at * column"
          y1="-30"
          y2="0"
          class="level"
        />
      </g>
      <path
        v-for="mark in marks"
        :key="mark.column"
        :d="`M${(mark.column + 0.5) * column} -2l-3 -7h6z`"
        class="mark"
        :class="{ full: mark.full }"
      />
      <text
        v-for="tick in rowTicks"
        :key="`r${tick.at}`"
        aria-hidden="true"
        x="-8"
        :y="tick.at * row + (rowTicks.length === rows ? row / 2 + 4 : 9)"
        class="axis-text end"
      >
        {{ tick.text }}
      </text>
      <template #canvas>
        <CanvasLayer :x="left" :y="top" :width="grid.width" :height="grid.height" :draw="draw" />
        <slot />
      </template>
      <template #over>
        <slot name="over" />
        <rect
          v-if="chosen"
          :x="chosen.from * column"
          y="-1"
          :width="chosen.many * column"
          :height="grid.height + 2"
          class="chosen"
        />
        <rect
          v-if="cursor"
          :x="cursor.column * column - 1"
          :y="cursor.row * row - 1"
          :width="column + 2"
          :height="row + 2"
          class="chosen"
        />
        <text x="0" :y="grid.height + 15" class="axis-text" data-testid="readout">
          {{ readout }}
        </text>
        <text v-if="aside" :x="grid.width - 24" :y="grid.height + 15" class="axis-text end">
          {{ aside }}
        </text>
      </template>
    </ChartPicture>
  </div>
</template>

<style src="./axis.css"></style>

<style scoped>
.map {
  cursor: pointer;
}
.map:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -2px;
}
.mark {
  fill: none;
  stroke: var(--ink);
}
.mark.full {
  fill: var(--ink);
}
.chosen {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
