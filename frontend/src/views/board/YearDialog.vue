<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import { api, type Edit, type Plan, type Pool, type Problem, type YearAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { owner, page } from '@/ask/page'
import { useQuestion } from '@/ask/question'
import { about, sent } from '@/ask/send'
import { told } from '@/ask/told'
import CanvasLayer from '@/chart/CanvasLayer.vue'
import type { Cell } from '@/chart/cells'
import HeatMap from '@/chart/HeatMap.vue'
import { drawLegend, placed, textAt } from '@/chart/legend'
import type { Ink, Pen } from '@/chart/pen'
import { handOver } from '@/ui/files'
import type { Table } from '@/chart/table'
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

/** The picture's width in the dialog, and that of the months' names, in pixels. */
const WIDE = 960
const MONTHS_WIDE = 84
const MONTHS = [
  'January', 'February', 'March', 'April', 'May', 'June',
  'July', 'August', 'September', 'October', 'November', 'December',
] // prettier-ignore
const answer = computed(() => found.answer.value)
/** Each kind of day is told by its place among them, by colour and by pattern. */
const INKS: readonly Ink[] = [
  { colour: '--paper-sunk' },
  { colour: '--brass-line', pattern: 'slant', gap: 6, width: 2 },
  { colour: '--buoy', pattern: 'rows', gap: 5 },
  { colour: '--brass-wash' },
  { colour: '--ink-quiet', pattern: 'posts', gap: 4 },
  { colour: '--buoy-wash' },
]
const inkOf = (kind: number) => INKS[kind % INKS.length] as Ink
const kinds = computed(() =>
  placed(
    (answer.value?.day_types ?? []).map((kind, k) => ({
      text: calledDay(props.schedule, kind),
      inks: [{ colour: '--paper-raised' }, inkOf(k)],
    })),
    WIDE - MONTHS_WIDE,
  ),
)
const drawKinds = computed(() => {
  const shown = kinds.value
  return (pen: Pen) => drawLegend(pen, shown)
})
const dates = computed(() => new Map(answer.value?.days.map((day) => [day.date, day])))
const dateOf = (of: number, { column, row }: Cell) =>
  [of, row + 1, column + 1].map((part) => String(part).padStart(2, '0')).join('-')
const dayAt = (cell: Cell) => dates.value.get(dateOf(year.value, cell))
const paint = computed(() => {
  const [all, of] = [dates.value, year.value]
  return (pen: Pen, cell: Cell, x: number, y: number, width: number, height: number) => {
    const day = all.get(dateOf(of, cell))
    pen.box(x, y, width, height, { colour: '--paper-raised' })
    if (!day) return
    pen.box(x + 1, y + 1, width - 2, height - 2, inkOf(day.day_type))
    if (day.by !== 'weekday')
      pen.stroke(`M${x + 2} ${y + 2}h${width - 4}v${height - 4}h${4 - width}z`, {
        colour: '--ink',
        width: 2,
      })
  }
})
const table = (): Table => ({
  head: ['date', 'kind of day', 'by', 'name'],
  rows: (answer.value?.days ?? []).map((day) => [day.date, kindOf(day), BY[day.by], day.name]),
})
const ticks = (texts: readonly string[]) => texts.map((text, at) => ({ at, text }))
const DATES = ticks(Array.from({ length: 31 }, (_, k) => String(k + 1)))
const MONTH_TICKS = ticks(MONTHS)
const BY = {
  date: 'the date itself',
  range: 'a stretch of dates',
  event: 'an event',
  holiday: 'a holiday',
  'month end': 'the end of the month',
  weekday: 'its weekday',
}
type Ruled = YearAnswer['days'][number]
const kindOf = (day: Ruled) =>
  calledDay(props.schedule, answer.value?.day_types[day.day_type] ?? '')
function saysOf(day: Ruled): string {
  return `${fullDayName(day.date)}: ${kindOf(day)}, by ${BY[day.by]}${day.name ? ` (${day.name})` : ''}`
}
const saysAt = (cell: Cell | null) => {
  const day = cell && dayAt(cell)
  return day ? saysOf(day) : 'Choose a date to see its week'
}
function look(cell: Cell): void {
  const day = dayAt(cell)
  if (day) emit('go', day.date)
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
      <button class="link away" @click="takeAway">Take it away as a calendar file</button>
    </p>
    <ProblemNote v-if="shown" :problem="shown" />
    <HeatMap
      v-if="answer"
      :name="`${schedule} ${year}`"
      label="Which kind of day rules each date"
      data-testid="dates"
      :width="WIDE"
      :height="320"
      :columns="31"
      :rows="12"
      :left="MONTHS_WIDE"
      :paint="paint"
      :column-ticks="DATES"
      :row-ticks="MONTH_TICKS"
      :words="saysAt"
      :table="table"
      @choose="look"
    >
      <CanvasLayer :x="MONTHS_WIDE" :y="3" :width="WIDE - MONTHS_WIDE" :height="9" :draw="drawKinds" />
      <template #over>
        <text v-for="kind in kinds" :key="kind.text" :x="textAt(kind)" y="-23" class="axis-text">
          {{ kind.text }}
        </text>
      </template>
    </HeatMap>
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
.away {
  margin-left: auto;
}
.others {
  font-size: 12.5px;
  color: var(--ink-quiet);
}
</style>
