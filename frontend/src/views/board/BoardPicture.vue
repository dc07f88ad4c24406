<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'

import type { Day, WeekAnswer } from '@/api/client'
import BandRibbon from './BandRibbon.vue'
import HostLanes from '@/water/HostLanes.vue'
import { provideTimeframe } from '@/chart/timeframe'
import WaterChart from '@/water/WaterChart.vue'

import { clock, WEEKDAYS } from '@/ui/format'

import type { useBoard } from './useBoard'

/** Few schedules have load rules. */
const LoadPicture = defineAsyncComponent(() => import('./LoadPicture.vue'))

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
/** One stretch of the day is looked at in all its pictures, and one instant pointed at. */
const frame = provideTimeframe(
  computed(() => props.day.start),
  computed(() => props.day.end),
)
/** A day and time of the week. */
const whenOf = (instant: number) => {
  const at = props.week.days.find((each) => instant >= each.start && instant < each.end)
  const time = clock(instant, props.week.zone)
  return at ? `${WEEKDAYS[at.weekday]} ${time}` : time
}
const { simulation, bands, selected, holding } = board
</script>

<template>
  <WaterChart
    :week="week"
    :baseline="board.baseline.value"
    :beside="board.ghost.value?.name ?? 'the pinned revision'"
    :day="day"
    :bands="bands"
    :targets="board.targets.value"
    :fixed="board.alone.value"
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
    @target-time="board.targetTime"
    @target-hosts="board.targetHosts"
    @split="board.split"
    @remove="board.remove"
    @cancel="board.cancel"
    @flood="(start, end) => emit('waiters', start, end)"
  />
  <BandRibbon
    :bands="bands"
    :view="frame.view.value"
    :zone="week.zone"
    :selected="selected"
    :width="width"
    :left="LEFT"
    :right="RIGHT"
    :fixed="board.alone.value"
    @select="board.select"
    @split="board.split"
    @remove="board.remove"
  />
  <LoadPicture
    v-for="{ rule, told } in board.loadRules.value"
    :key="rule.id"
    :rule="rule"
    :told="told"
    :day="day"
    :zone="week.zone"
    :width="width"
    :left="LEFT"
    :right="RIGHT"
    :still="holding || !simulation.fits"
    :fixed="board.alone.value"
    @move="(values, done) => board.loadRule(rule.id, values, done)"
    @cancel="board.cancel"
  />
  <p v-for="fight in week.fights" :key="`${fight.grows} ${fight.shrinks}`" class="fight">
    <b>{{ fight.grows }}</b> asks for hosts while <b>{{ fight.shrinks }}</b> lets them go:
    {{ fight.count }} times in this week, first on
    {{ whenOf(fight.times[0] ?? week.series.start) }}.
  </p>
  <HostLanes
    v-if="simulation.of"
    :week="week"
    :of="simulation.of"
    :day="day"
    :width="width"
    :left="LEFT"
    :right="RIGHT"
    :kept="simulation.kept"
  />
</template>

<style scoped>
.fight {
  padding: 2px 16px;
  font-size: 12.5px;
}
</style>
