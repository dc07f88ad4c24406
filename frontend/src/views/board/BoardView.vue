<script setup lang="ts">
import { computed, defineAsyncComponent, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import WeekStrip from './WeekStrip.vue'
import { weekdayOf } from '@/ui/format'
import { useFacts } from '@/plan/facts'
import { useOnce } from '@/ui/once'
import ProblemNote from '@/ui/ProblemNote.vue'
import PlanFrame from '@/views/frame/PlanFrame.vue'
import PoolPicker from '@/views/frame/PoolPicker.vue'
import { daysLater, mondayOf, useWeek } from '@/views/frame/useWeek'
import WeekPicker from '@/views/frame/WeekPicker.vue'

import BoardPicture from './BoardPicture.vue'
import ConsequenceColumn from './ConsequenceColumn.vue'
import OwnRules from './OwnRules.vue'
import ScheduleSentence from './ScheduleSentence.vue'
import { useBoard } from './useBoard'

/** What is not seen at first comes when it is asked for. */
const AssumedList = defineAsyncComponent(() => import('@/views/frame/AssumedList.vue'))
const FirstSentence = defineAsyncComponent(() => import('@/views/frame/FirstSentence.vue'))
const PlanSentences = defineAsyncComponent(() => import('./PlanSentences.vue'))
const WaitersDialog = defineAsyncComponent(() => import('./WaitersDialog.vue'))
const YearDialog = defineAsyncComponent(() => import('./YearDialog.vue'))
const YearOfWeeks = defineAsyncComponent(() => import('./YearOfWeeks.vue'))

/** The Board: the week in one picture, edited where it shows. */
defineProps<{ id: number }>()
const board = useBoard()
const facts = useFacts()
const { store, simulation, pool, week, day, place } = board

const frame = ref<HTMLElement>()
const width = ref(800)
const height = ref(320)
const more = computed(() => route.query.more === '1')
const year = ref(false)
const waiters = ref<{ start: number; end: number } | null>(null)

const yearOnce = useOnce(() => year.value)
const waitersOnce = useOnce(() => waiters.value !== null)

/** The strip follows when nothing is held, with the whole week. */
const strip = computed(() => simulation.whole ?? week.value)

const pools = computed(() => store.plan?.pools ?? [])
const empty = computed(() => store.plan !== null && pools.value.length === 0)

const route = useRoute()
const { first, own, go: choose } = useWeek()
/** Look at a date of the year. */
function look(date: string): void {
  year.value = false
  const monday = mondayOf(date)
  const week = monday === own.value ? undefined : monday
  board.go({ day: String(weekdayOf(date)), band: undefined, week })
}
/** The year whose weeks are shown. */
const weekly = computed(() => Number(route.query.weeks) || null)
const showWeeks = (shown: number | null) => board.go({ weeks: shown ? `${shown}` : undefined })
/** Weeks begin on a Monday that may be of the year before. */
function toggleWeeks(): void {
  showWeeks(weekly.value === null ? Number(daysLater(first.value, 6).slice(0, 4)) : null)
}
function pinFrom(event: Event): void {
  const value = (event.target as HTMLSelectElement).value
  if (value === 'ghost') return
  board.forgetGhost()
  board.go({ pin: value || undefined })
}

const watcher = new ResizeObserver(([entry]) => {
  if (!entry) return
  width.value = Math.floor(entry.contentRect.width)
  height.value = Math.round(Math.max(240, Math.min(innerHeight * 0.46, 560)))
})
watch(frame, (element, before) => {
  if (before) watcher.unobserve(before)
  if (element) watcher.observe(element)
})
onBeforeUnmount(() => watcher.disconnect())
</script>

<template>
  <PlanFrame :id="id" view="board">
    <template #controls>
      <PoolPicker :pool="pool?.id" @choose="(id) => board.go({ pool: id, band: undefined })" />
      <WeekPicker />
      <label v-if="pools.length">
        against
        <select
          class="text-box against"
          :value="board.ghost.value ? 'ghost' : (board.pinned.value ?? '')"
          data-testid="pin"
          @change="pinFrom"
        >
          <option value="">nothing</option>
          <option v-if="board.ghost.value" value="ghost">{{ board.ghost.value.name }}</option>
          <option v-for="item in store.revisions" :key="item.number" :value="item.number">
            r{{ item.number }}{{ item.words ? ` ${item.words.slice(0, 36)}` : '' }}
          </option>
        </select>
      </label>
    </template>
    <template v-if="store.plan">
      <ProblemNote v-if="simulation.problem" :problem="simulation.problem">
        <p v-if="week">The picture shows the last plan that could be simulated.</p>
      </ProblemNote>
      <ProblemNote v-if="board.pinProblem.value" :problem="board.pinProblem.value">
        <p>The revision beside it cannot be shown.</p>
      </ProblemNote>
      <main v-if="empty"><FirstSentence :plan="store.plan" /></main>
      <div v-else-if="pool" class="board">
        <main class="main">
          <div class="says" :class="{ more }">
            <ScheduleSentence
              v-if="place && day"
              id="band"
              role="tabpanel"
              aria-label="The chosen band"
              :plan="store.plan"
              :pool="pool"
              :place="place"
              :day="day"
              :shared-with="board.sharedWith.value"
              :alone="board.alone.value"
              :problem-above="simulation.problem !== null"
              @alone="board.alone.value = $event"
              @apply="store.apply"
            />
            <p class="links">
              <OwnRules
                v-if="place && day"
                :plan="store.plan"
                :place="place"
                :day="day"
                @apply="store.apply"
              />
              <button class="link" data-testid="open-year" @click="year = true">The year</button>
              <button
                class="link"
                data-testid="weekly"
                :aria-expanded="weekly !== null"
                @click="toggleWeeks"
              >
                {{ weekly !== null ? 'Without its weeks' : 'Week by week' }}
              </button>
              <button
                class="link"
                :aria-expanded="more"
                data-testid="more"
                @click="board.go({ more: more ? undefined : '1' })"
              >
                {{ more ? 'Fewer sentences' : 'Hosts, sessions and promise' }}
              </button>
            </p>
            <PlanSentences v-if="more" :plan="store.plan" :pool="pool" />
          </div>
          <div
            ref="frame"
            class="picture"
            :aria-busy="simulation.busy"
            :data-fits="simulation.fits"
          >
            <template v-if="week && day">
              <BoardPicture
                :board="board"
                :week="week"
                :day="day"
                :width="width"
                :height="height"
                @waiters="(start, end) => (waiters = { start, end })"
              />
            </template>
            <p v-else-if="!simulation.problem" class="quiet wait">Simulating the week …</p>
          </div>
          <YearOfWeeks
            v-if="weekly !== null"
            :plan="store.settled ?? store.plan"
            :pool="pool"
            :year="weekly"
            :first="first"
            @choose="choose"
            @year="showWeeks"
          />
          <WeekStrip
            v-if="strip"
            :week="strip"
            :schedule="board.pool.value?.schedule ?? ''"
            :weekday="board.weekday.value"
            @choose="(d) => board.go({ day: String(d), band: undefined })"
          />
        </main>
        <ConsequenceColumn
          v-if="week && day"
          :week="week"
          :range="simulation.range"
          :baseline="board.baseline.value"
          :baseline-range="board.baselineRange.value"
          :beside="board.beside.value"
          :many="simulation.many"
          :unpriced="(pool && facts.pools[pool.id]?.unpriced) ?? []"
          @many="simulation.askMany"
          @stop="simulation.stopMany"
          @waiters="waiters = { start: day.start, end: day.end }"
        >
          <AssumedList v-if="store.plan.assumed?.length" :id="id" />
        </ConsequenceColumn>
      </div>
      <YearDialog
        v-if="pool && yearOnce"
        :open="year"
        :plan="store.settled ?? store.plan"
        :pool="pool"
        :schedule="pool.schedule"
        :first="first"
        @close="year = false"
        @go="look"
        @apply="store.apply"
      />
      <WaitersDialog
        v-if="week && simulation.of && waitersOnce"
        :week="week"
        :of="simulation.of"
        :window="waiters"
        @close="waiters = null"
      />
    </template>
  </PlanFrame>
</template>

<style scoped>
.board {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 308px;
  flex: 1;
  min-height: 0;
}
.main {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.says {
  padding: 6px 16px 4px;
  flex: none;
}
.says.more {
  max-height: 50vh;
  overflow-y: auto;
}
.links {
  display: flex;
  flex-direction: row-reverse;
  justify-content: flex-end;
  gap: 20px;
  font-size: 12.5px;
}
.picture {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  overflow: hidden auto;
}
.picture > :deep(*) {
  flex: none;
}
.picture > :deep(.lanes) {
  flex: 1 0 150px;
}
@media (min-width: 1700px) {
  .board {
    grid-template-columns: minmax(0, 1fr) 380px;
  }
}
.against {
  max-width: 180px;
}
@media (max-width: 900px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
  .picture {
    flex: none;
    height: 420px;
  }
}
</style>
