<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import { api, type Edit, type Plan, type Pool, type Problem, type YearAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { owner, page } from '@/ask/page'
import { useQuestion } from '@/ask/question'
import { about, sent } from '@/ask/send'
import { told } from '@/ask/told'
import { handOver } from '@/chart/save'
import { called, calledDay } from '@/plan/called'
import { fullDayName } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

import DayKinds from './DayKinds.vue'

/** Which kind of day rules each date of a year, and by what; what each kind of day is for. */
const props = defineProps<{
  open: boolean
  plan: Plan
  pool: Pool
  schedule: string
  first: string
}>()
const emit = defineEmits<{
  close: []
  go: [date: string]
  apply: [edit: Edit]
}>()

interface Wish {
  plan: Plan
  pool: string
  year: number
}
const year = ref(2027)
const found = useQuestion<Wish, YearAnswer>(
  (wish, call) => api.POST('/api/plans/year', about(wish, call)),
  {
    key: (wish) => keyOf(wish.plan, wish.pool, wish.year),
    about: (wish) => `${wish.pool} ${wish.year}`,
    urgent: () => true,
  },
)
watch(
  () => props.open,
  (open) => open && (year.value = Number(props.first.slice(0, 4))),
  { immediate: true },
)
watch([() => props.open, () => props.plan, () => props.pool.id, year], () => {
  if (props.open) found.ask({ plan: props.plan, pool: props.pool.id, year: year.value })
}, { immediate: true })

const MONTHS = [
  'January', 'February', 'March', 'April', 'May', 'June',
  'July', 'August', 'September', 'October', 'November', 'December',
] // prettier-ignore
const answer = computed(() => found.answer.value)
const months = computed(() =>
  MONTHS.map((name, k) => ({
    name,
    days: answer.value?.days.filter((day) => Number(day.date.slice(5, 7)) === k + 1) ?? [],
  })),
)
const BY = {
  date: 'the date itself',
  range: 'a stretch of dates',
  event: 'an event',
  holiday: 'a holiday',
  'month end': 'the end of the month',
  weekday: 'its weekday',
}
type Ruled = YearAnswer['days'][number]
function saysOf(day: Ruled): string {
  const kind = calledDay(props.schedule, answer.value?.day_types[day.day_type] ?? '')
  return `${fullDayName(day.date)}: ${kind}, by ${BY[day.by]}${day.name ? ` (${day.name})` : ''}`
}
/** Dates that are not under the rules of their weekday, counted by what put them there. */
const others = computed(() => answer.value?.days.filter((day) => day.by !== 'weekday') ?? [])

const problem = shallowRef<Problem | null>(null)
const shown = computed(() => found.problem.value ?? problem.value)
async function takeAway(): Promise<void> {
  const asked = {
    plan: props.plan,
    pool: props.pool.id,
    first: `${year.value}-01-01`,
    days: 365,
    tab: '',
    edit: 0,
    owner,
    plan_id: page.plan,
  }
  const got = await told(api.POST('/api/plans/agenda', sent(asked)))
  problem.value = got.problem
  if (got.data) handOver(`${props.pool.id} ${year.value}.ics`, new Blob([got.data.text]))
}
</script>

<template>
  <ElDialog
    :model-value="open"
    :title="`The year of ${called('schedules', schedule)}`"
    width="1000px"
    align-center
    data-testid="year"
    @update:model-value="emit('close')"
  >
    <p class="top">
      <button class="link" :aria-label="`The year ${year - 1}`" @click="year -= 1">‹</button>
      <b>{{ year }}</b>
      <button class="link" :aria-label="`The year ${year + 1}`" @click="year += 1">›</button>
      <span v-for="(kind, k) in answer?.day_types" :key="kind" class="key">
        <i class="cell" :class="`kind-${k % 6}`"></i>{{ calledDay(schedule, kind) }}
      </span>
      <button class="link away" @click="takeAway">Take it away as a calendar file</button>
    </p>
    <ProblemNote v-if="shown" :problem="shown" />
    <div class="grid" role="group" aria-label="Dates of the year">
      <div v-for="month in months" :key="month.name" class="row">
        <span class="month">{{ month.name }}</span>
        <button
          v-for="day in month.days"
          :key="day.date"
          class="plain cell"
          :class="[`kind-${day.day_type % 6}`, { other: day.by !== 'weekday' }]"
          :aria-label="saysOf(day)"
          :title="saysOf(day)"
          @click="emit('go', day.date)"
        >
          {{ Number(day.date.slice(8)) }}
        </button>
      </div>
    </div>
    <p v-if="answer" class="others" data-testid="others">
      <template v-if="others.length">
        Not by their weekday: {{ others.slice(0, 12).map(saysOf).join(' · ')
        }}<template v-if="others.length > 12"> · and {{ others.length - 12 }} more</template>.
      </template>
      <template v-else>Every date is under the rules of its weekday.</template>
    </p>
    <DayKinds
      :plan="plan"
      :schedule="schedule"
      :first="first"
      @apply="emit('apply', $event)"
    />
  </ElDialog>
</template>

<style scoped>
.top {
  display: flex;
  gap: 14px;
  align-items: baseline;
  flex-wrap: wrap;
}
.key {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.away {
  margin-left: auto;
}
.grid {
  margin: 6px 0;
}
.row {
  display: flex;
  align-items: center;
  gap: 2px;
  height: 23px;
}
.month {
  width: 84px;
  font-size: 12.5px;
}
.cell {
  width: 26px;
  height: 20px;
  font-size: 10.5px;
  text-align: center;
  border: 1px solid var(--hair);
  color: var(--ink);
}
.cell:focus-visible,
.cell:hover {
  outline: 2px solid var(--focus);
}
.other {
  border: 2px solid var(--ink);
  font-weight: 700;
}
.kind-0 {
  background: var(--paper-sunk);
}
.kind-1 {
  background: repeating-linear-gradient(135deg, var(--brass-wash) 0 4px, transparent 4px 7px);
}
.kind-2 {
  background: repeating-linear-gradient(0deg, var(--buoy-wash) 0 3px, transparent 3px 6px);
}
.kind-3 {
  background: var(--brass-wash);
}
.kind-4 {
  background: repeating-linear-gradient(90deg, var(--hair-strong) 0 1px, transparent 1px 4px);
}
.kind-5 {
  background: var(--buoy-wash);
}
.others {
  font-size: 12.5px;
  color: var(--ink-quiet);
}
</style>
