<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import type { StudyPoint, StudyRow } from '@/api/client'
import { FREE_NAMES } from '@/tuner/names'
import FrontPicture from '@/tuner/FrontPicture.vue'
import { marksOf } from '@/tuner/front'
import StepList from '@/tuner/StepList.vue'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { count, duration, money, share, words } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'
import ProgressNote from '@/ui/ProgressNote.vue'
import { useWidth } from '@/ui/useWidth'
import ValueToken from '@/ui/ValueToken.vue'
import FirstSentence from '@/views/board/FirstSentence.vue'
import PlanFrame from '@/views/frame/PlanFrame.vue'
import { useGhost } from '@/stores/ghost'
import { withPoints } from '@/tuner/taken'

import PointWeek from './PointWeek.vue'
import PoolsTogether from './PoolsTogether.vue'
import { ALL } from './useTogether'
import { PRESETS, useTuner } from './useTuner'

/** The search for the settings that keep the promise at the least cost, and what stricter ones would. */
const props = defineProps<{ id: number }>()
const tuner = useTuner()
const route = useRoute()
const router = useRouter()
const ghosts = useGhost()
const { store, pool, study, may } = tuner

const AXES = [
  { value: 'wait_p95_seconds', text: 'the wait of 19 of 20' },
  { value: 'refused_share', text: 'refusals' },
  { value: 'strained_share', text: 'strained work' },
  { value: 'lost_returns', text: 'lost returns' },
  { value: 'forced_share', text: 'forced sign-offs' },
]
const frees = computed(() => Object.keys(PRESETS).map((text) => ({ value: text, text })))
const pools = computed(() => {
  const each = (store.plan?.pools ?? []).map((p) => ({ value: p.id, text: words(p.id) }))
  return each.length > 1 ? [...each, { value: ALL, text: ALL }] : each
})
const every = computed(() => route.query.pool === ALL)
const together = ref<InstanceType<typeof PoolsTogether>>()
const busy = computed(() =>
  every.value
    ? !!together.value?.busy || !!together.value?.goesOn
    : tuner.asking.value || tuner.goesOn.value,
)
function search(): void {
  if (every.value) void together.value?.ask()
  else void tuner.ask()
}
const box = ref<HTMLElement>()
const width = useWidth(box, 860)

const marks = computed(() => (study.value ? marksOf(study.value) : []))
const chosen = ref('')
watch(
  () => study.value?.answer,
  (answer) => (chosen.value = answer ? (answer.tuned ? 'tuned' : 'today') : ''),
  { immediate: true },
)
const mark = computed(() => marks.value.find((m) => m.key === chosen.value) ?? null)
const currency = computed(() => study.value?.currency ?? store.plan?.currency ?? 'EUR')
const sayMoney = (value: number) => money(value, currency.value)
const timed = computed(() => study.value?.question.axis === 'wait_p95_seconds')
const sayAcross = (value: number) => (timed.value ? duration(value) : share(value))
const axisName = computed(
  () => AXES.find((a) => a.value === study.value?.question.axis)?.text ?? AXES[0]?.text ?? '',
)
const figures = computed(() => {
  const point = mark.value?.point
  return point ? rowsOf(point) : []
})
function rowsOf(point: StudyPoint) {
  const about = (
    figure: { mean: number | null; half: number | null; unbounded: boolean },
    say: (v: number) => string,
  ) =>
    figure.unbounded
      ? 'no bound'
      : figure.mean === null
        ? '–'
        : `${say(figure.mean)}${figure.half ? ` ± ${say(figure.half)}` : ''}`
  const p = point
  return [
    { name: 'A month, of what settings can change', text: about(p.money, sayMoney), part: '' },
    { name: 'A month in all', text: sayMoney(p.month), part: '' },
    { name: 'Wait, 19 of 20 logons', text: about(p.wait_p95, duration), part: 'wait_p95_seconds' },
    { name: 'Refused', text: about(p.refused, share), part: 'refused_share' },
    { name: 'Strained working time', text: about(p.strained, share), part: 'strained_share' },
    { name: 'Lost returns', text: about(p.lost, share), part: 'lost_returns' },
    { name: 'Forced sign-offs', text: about(p.forced, share), part: 'forced_share' },
    { name: 'Comfort', text: about(p.comfort, share), part: 'comfort' },
  ].map((row) => ({ ...row, standing: row.part ? (p.standings[row.part] ?? '') : '' }))
}
const LOOK: Record<string, string> = { kept: 'good', 'at risk': 'risk', broken: 'bad' }
const MARK: Record<string, string> = { kept: '✓', 'at risk': '?', broken: '✕' }
const weighed = computed(() => (may.value?.weeks ?? []).filter((w) => w.name !== 'ordinary'))
function count_in(name: string, on: boolean): void {
  tuner.weights.value = { ...tuner.weights.value, [name]: on ? 0.1 : 0 }
}
function lock(path: string, on: boolean): void {
  const rest = tuner.locked.value.filter((each) => each !== path)
  tuner.locked.value = on ? [...rest, path] : rest
}
const turnable = computed(() =>
  (may.value?.turnable ?? []).filter((t) => PRESETS[tuner.free.value]?.includes(t.belongs)),
)
const monday = computed(() => study.value?.question.weeks[0]?.monday ?? '')
/** Beside it stand the figures of what is pointed at. */
const frontWidth = computed(() => Math.max(width.value - 336, 320))
function onBoard(): void {
  const point = mark.value?.point
  const from = study.value?.question.pool
  if (!point || !store.plan || !from) return
  const name = `${mark.value?.name ?? ''}, study ${study.value?.job.id ?? ''}`
  ghosts.ghost = { plan: withPoints(store.plan, [point]), pool: from, name }
  void router.push({ name: 'board', params: { id: props.id }, query: { pool: from } })
}
const fieldName = (path: string) =>
  FREE_NAMES[path] ?? path.split('.').slice(-1)[0]?.replaceAll('_', ' ') ?? path
/** Fields with numbers that have no bounds yet. */
const boundable = computed(() =>
  turnable.value.filter(
    (t) =>
      !tuner.within.value.some((b) => b.path === t.path) &&
      t.today.some((v) => v.trim() !== '' && Number.isFinite(Number(v))),
  ),
)
function addBound(event: Event): void {
  const menu = event.target as HTMLSelectElement
  const field = boundable.value.find((t) => t.path === menu.value)
  menu.value = ''
  if (!field) return
  const numbers = field.today.map(Number).filter(Number.isFinite)
  // A half and the double of what stands today, to begin with.
  const bound = {
    path: field.path,
    low: Math.min(...numbers) / 2,
    high: Math.max(...numbers) * 2,
  }
  tuner.within.value = [...tuner.within.value, bound]
}
function setBound(at: number, values: { low?: number; high?: number }): void {
  tuner.within.value = tuner.within.value.map((b, k) => (k === at ? { ...b, ...values } : b))
}
function dropBound(at: number): void {
  tuner.within.value = tuner.within.value.filter((_, k) => k !== at)
}
const taken = ref('')
function takeOver(): void {
  const point = mark.value?.point
  if (!point) return
  tuner.takeOver(point)
  taken.value = chosen.value
}
function comparable(row: StudyRow): boolean {
  const shown = study.value
  return (
    !!shown?.answer &&
    row.job.state === 'done' &&
    row.job.id !== shown.job.id &&
    row.question.pool === shown.question.pool
  )
}
const otherRow = computed(() => tuner.rows.value.find((r) => r.job.id === tuner.other.value))
/** What a study that goes on does now. */
const doing = computed(() => {
  const found = study.value?.so_far
  const seconds = found?.used ? study.value?.job.left : null
  const left = seconds ? `, about ${duration(Math.ceil(seconds))} left` : ''
  const tried = `${count(found?.candidates ?? 0)} candidates tried`
  return `weeks, ${tried}: now ${found?.stage ?? 'waiting for a worker'}${left}`
})
</script>

<template>
  <PlanFrame :id="id" view="tuner">
    <main v-if="store.plan" class="tuner" :aria-busy="tuner.goesOn.value">
      <FirstSentence v-if="!store.plan.pools.length" :plan="store.plan" />
      <template v-else-if="pool">
        <p class="question" data-testid="question">
          For
          <ChoiceToken
            label="Pool to tune"
            :options="pools"
            :model-value="every ? ALL : pool.id"
            @update:model-value="(v) => tuner.go({ pool: v, study: undefined, studies: undefined })"
          />
          change
          <ChoiceToken
            label="What may change"
            :options="frees"
            :model-value="tuner.free.value"
            @update:model-value="(v) => (tuner.free.value = v)"
          />
          <template v-if="every">so that the promises cost least, each pool in</template>
          <template v-else>
            so that the promise costs least, weighed against
            <ChoiceToken
              label="What is weighed against the money"
              :options="AXES"
              :model-value="tuner.axis.value"
              @update:model-value="(v) => (tuner.axis.value = v as typeof tuner.axis.value)"
            />, in
          </template>
          <ValueToken
            label="Weeks of candidates"
            :model-value="tuner.budget.value"
            @update:model-value="
              (v) => (tuner.budget.value = Math.min(Math.max(Math.round(Number(v)), 200), 100000))
            "
          />
          weeks.
          <button class="search" :disabled="busy" data-testid="search" @click="search">
            Search
          </button>
        </p>
        <div ref="box" class="measure" />
        <PoolsTogether
          v-if="every"
          ref="together"
          :free="tuner.free.value"
          :weeks="tuner.budget.value"
          :width="width"
        />
        <details v-else class="more">
          <summary>Which weeks count, what stays as it is, and within which bounds</summary>
          <p>
            The week of the plan counts<template v-if="weighed.length"
              >, and of the year after it</template
            >
            <label v-for="week in weighed" :key="week.name" :title="week.why">
              <input
                type="checkbox"
                :checked="(tuner.weights.value[week.name] ?? 0) > 0"
                @change="count_in(week.name, ($event.target as HTMLInputElement).checked)"
              />
              {{ words(week.name) }} ({{ week.monday }})
            </label>
            <span v-if="weighed.length" class="quiet">
              each as one in ten beside it; the promise has to be kept in each of them.
            </span>
          </p>
          <p>
            Stays as it is:
            <label v-for="field in turnable" :key="field.path" :title="field.meaning">
              <input
                type="checkbox"
                :checked="tuner.locked.value.includes(field.path)"
                @change="lock(field.path, ($event.target as HTMLInputElement).checked)"
              />
              {{ fieldName(field.path) }}
            </label>
          </p>
          <p>
            Only within:
            <span v-for="(bound, k) in tuner.within.value" :key="bound.path" class="bound">
              {{ fieldName(bound.path) }} from
              <ValueToken
                label="Least"
                :model-value="bound.low"
                @update:model-value="(v) => setBound(k, { low: Number(v) })"
              />
              to
              <ValueToken
                label="Most"
                :model-value="bound.high"
                @update:model-value="(v) => setBound(k, { high: Number(v) })"
              />
              <button class="link" @click="dropBound(k)">without</button>;
            </span>
            <select
              v-if="boundable.length"
              aria-label="Bound another field"
              data-testid="bound"
              @change="addBound"
            >
              <option value="">another field …</option>
              <option v-for="field in boundable" :key="field.path" :value="field.path">
                {{ fieldName(field.path) }} ({{ field.today.join(', ') }} today)
              </option>
            </select>
          </p>
        </details>
        <ProblemNote v-if="!every && tuner.problem.value" :problem="tuner.problem.value" />
        <p v-if="!every && !study" class="quiet" role="status">
          <template v-if="tuner.number.value">Reading the study …</template>
          <template v-else>
            Nothing is searched for yet. A search tries thousands of schedules on simulated weeks,
            tells the best on weeks that it has not seen, and says what each change does.
          </template>
        </p>
        <template v-if="!every && study">
          <ProgressNote
            v-if="tuner.goesOn.value"
            data-testid="study-progress"
            :progress="{
              done: study.so_far?.used ?? 0,
              of: study.so_far?.budget ?? study.question.budget,
            }"
            :what="doing"
            @stop="tuner.stop"
          />
          <p v-else-if="study.job.state === 'stopped'" role="status">
            It was stopped; what was tried is kept.
            <button class="link" @click="tuner.ask">Go on</button>
          </p>
          <p v-else-if="study.job.state === 'failed'" role="alert">{{ study.job.problem }}</p>
          <div v-if="study.answer" class="verdict" data-testid="verdict">
            <p>
              <b>{{ study.answer.verdict }}</b>
            </p>
            <p v-if="study.answer.next_second" data-testid="next-second">
              {{ study.answer.next_second }}
            </p>
          </div>
          <div class="both">
            <div class="pictures">
              <FrontPicture
                v-if="marks.length"
                :marks="marks"
                :ideal="study.answer?.ideal ?? null"
                :limit="study.limit"
                :axis-name="axisName"
                :say-across="sayAcross"
                :say-money="sayMoney"
                :chosen="chosen"
                :width="frontWidth"
                @choose="(key) => (chosen = key)"
              />
              <PointWeek
                v-if="study.answer && monday"
                :plan="store.plan"
                :pool="study.question.pool"
                :monday="monday"
                :point="mark?.point ?? null"
                :name="mark?.name ?? ''"
                :width="frontWidth"
              />
            </div>
            <aside v-if="mark?.point" class="chosen" data-testid="chosen">
              <h3>{{ mark.name }}</h3>
              <p v-for="row in figures" :key="row.name" class="row">
                <span>{{ row.name }}</span>
                <b :class="LOOK[row.standing]">{{ MARK[row.standing] }} {{ row.text }}</b>
              </p>
              <p v-if="mark.look !== 'today'">
                <button class="search" data-testid="take-over" @click="takeOver">
                  Take it over
                </button>
                <button class="link" data-testid="ghost" @click="onBoard">
                  See it as a ghost on the Board
                </button>
                <span v-if="taken === chosen" role="status">
                  It is in the plan; undo takes it back.
                  <RouterLink
                    :to="{
                      name: 'board',
                      params: { id: props.id },
                      query: { pool: study.question.pool },
                    }"
                    >See its week</RouterLink
                  >
                </span>
              </p>
              <p v-if="study.answer" class="quiet">
                {{ count(study.answer.candidates) }} candidates over
                {{ count(study.answer.weeks) }} weeks. Figures are of fresh weeks, used once.
                <template v-if="study.answer.early">It was ended before its budget.</template>
              </p>
            </aside>
          </div>
          <StepList
            v-if="study.answer?.explained"
            :explained="study.answer.explained"
            :currency="currency"
          />
        </template>
        <section v-if="tuner.rows.value.length" class="history" aria-label="Studies of this plan">
          <h3>Studies of this plan</h3>
          <table data-testid="studies">
            <tbody>
              <tr
                v-for="row in tuner.rows.value"
                :key="row.job.id"
                :class="{ on: row.job.id === tuner.number.value }"
              >
                <td>
                  <button
                    class="link"
                    @click="tuner.go({ pool: row.question.pool, study: String(row.job.id) })"
                  >
                    {{ words(row.question.pool) }},
                    {{ row.question.free.map((f) => FREE_NAMES[f] ?? f).join(', ') }}
                  </button>
                </td>
                <td class="num">{{ count(row.question.budget) }} weeks</td>
                <td class="num">{{ row.today === null ? '' : `${sayMoney(row.today)} today` }}</td>
                <td class="num">{{ row.tuned === null ? '' : `${sayMoney(row.tuned)} tuned` }}</td>
                <td>{{ row.job.state === 'done' ? row.verdict : row.job.state }}</td>
                <td>
                  <button
                    v-if="comparable(row)"
                    class="link"
                    :aria-pressed="tuner.other.value === row.job.id"
                    @click="
                      tuner.other.value = tuner.other.value === row.job.id ? null : row.job.id
                    "
                  >
                    compare
                  </button>
                </td>
              </tr>
            </tbody>
          </table>
          <div v-if="tuner.differ.value && otherRow" class="differ" data-testid="differ">
            <p>
              <b>
                The study that is shown comes to
                {{ sayMoney(study?.answer?.tuned?.money.mean ?? 0) }} a month, study
                {{ otherRow.job.id }} to {{ sayMoney(otherRow.tuned ?? 0) }}.
              </b>
            </p>
            <p v-if="tuner.differ.value.asked.length">
              Asked otherwise: {{ tuner.differ.value.asked.join('; ') }}.
            </p>
            <p v-if="!tuner.differ.value.changes.length">Both found the same plan.</p>
            <ul v-else>
              <li v-for="text in tuner.differ.value.changes" :key="text">{{ text }}</li>
            </ul>
          </div>
        </section>
      </template>
    </main>
  </PlanFrame>
</template>

<style scoped>
.tuner {
  overflow-y: auto;
  padding: 8px 16px 32px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.question {
  font-size: 15px;
  line-height: 1.8;
}
.search {
  font: inherit;
  font-weight: 600;
  color: var(--paper);
  background: var(--ink);
  border: 0;
  border-radius: 2px;
  padding: 3px 14px;
  cursor: pointer;
}
.search:disabled {
  opacity: 0.5;
  cursor: default;
}
.more {
  font-size: 13px;
}
.more label {
  display: inline-flex;
  gap: 4px;
  align-items: baseline;
  margin-left: 12px;
}
.verdict {
  border-left: 3px solid var(--lichen);
  padding-left: 10px;
  font-size: 15px;
}
.bound {
  margin-right: 10px;
}
.differ {
  border-left: 3px solid var(--brass-line);
  padding-left: 10px;
  margin-top: 8px;
  font-size: 13px;
}
.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 16px;
}
.measure,
.pictures {
  min-width: 0;
}
.chosen {
  border-left: 1px solid var(--hair-strong);
  padding-left: 14px;
  font-size: 13px;
}
.row {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  border-bottom: 1px solid var(--hair);
  font-variant-numeric: tabular-nums;
}
h3 {
  font-size: 14px;
  font-weight: 650;
}
.history table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
.history td {
  padding: 2px 12px 2px 0;
  border-bottom: 1px solid var(--hair);
}
.history .on {
  background: var(--paper-raised);
}
.num {
  text-align: right;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
.good {
  color: var(--lichen);
}
.risk {
  color: var(--brass);
}
.bad {
  color: var(--buoy);
}
</style>
