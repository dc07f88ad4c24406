<script setup lang="ts">
import type { Day, WeekAnswer } from '@/api/client'
import BandRibbon from '@/board/BandRibbon.vue'
import HostLanes from '@/board/HostLanes.vue'
import WaterChart from '@/board/WaterChart.vue'

import type { useBoard } from './useBoard'

/** What follows the hand, and nothing else: a drag draws this anew, and leaves the page alone. */
const props = defineProps<{
  board: ReturnType<typeof useBoard>
  week: WeekAnswer
  day: Day
  width: number
  height: number
}>()
const emit = defineEmits<{ waiters: [start: number, end: number] }>()

const LEFT = 58
const RIGHT = 48
const { board } = props
const { simulation, bands, selected, holding } = board
</script>

<template>
  <WaterChart
    :week="week"
    :baseline="board.baseline.value"
    :day="day"
    :bands="bands"
    :selected="selected"
    :width="width"
    :height="height"
    :left="LEFT"
    :right="RIGHT"
    :still="holding || !simulation.fits"
    :stale="simulation.problem !== null"
    @select="board.select"
    @edge="board.edge"
    @floor="board.floor"
    @ceiling="board.ceiling"
    @split="board.split"
    @remove="board.remove"
    @cancel="board.cancel"
    @flood="(start, end) => emit('waiters', start, end)"
  />
  <BandRibbon
    :bands="bands"
    :day="day"
    :zone="week.zone"
    :selected="selected"
    :width="width"
    :left="LEFT"
    :right="RIGHT"
    @select="board.select"
    @split="board.split"
    @remove="board.remove"
  />
  <HostLanes
    :week="week"
    :day="day"
    :width="width"
    :left="LEFT"
    :right="RIGHT"
    :kept="simulation.kept"
    @forgotten="board.again"
  />
</template>
