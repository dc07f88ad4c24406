<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import type { Plan } from '@/api/client'
import FrontPicture from './FrontPicture.vue'
import StepList from './StepList.vue'
import { same } from '@/plan/same'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { count, duration, money } from '@/ui/format'
import { PARTS, sayPart } from '@/ui/promise'
import ProblemNote from '@/ui/ProblemNote.vue'
import ProgressNote from '@/ui/ProgressNote.vue'
import { useWidth } from '@/ui/useWidth'
import ValueToken from '@/ui/ValueToken.vue'
import EmptyView from '@/views/frame/EmptyView.vue'
import PlanFrame from '@/views/frame/PlanFrame.vue'
import { useGhost } from '@/stores/ghost'
import { told } from '@/ask/told'
import { nameOf } from '@/plan/called'
import { withDesigns } from './taken'

import PointFigures from './PointFigures.vue'
import PointWeek from './PointWeek.vue'
import PoolsTogether from './PoolsTogether.vue'
import QuestionMore from './QuestionMore.vue'
import StudySheet from './StudySheet.vue'
import StudyList from './StudyList.vue'
import WhereToBegin from './WhereToBegin.vue'
import WeeksOfYear from './WeeksOfYear.vue'
import { ALL } from './useTogether'
import { PRESETS, useTuner } from './useTuner'

/** The search for the settings that keep the promise at the least cost, and what stricter ones would. */
const props = defineProps<{ id: number }>()
const tuner = useTuner()
const route = useRoute()
const router = useRouter()
const ghosts = useGhost()
const { store, pool, study } = tuner

const AXES = PARTS.filter((part) => !part.least).map(({ field, spoken }) => ({
  value: field,
  text: spoken,
}))
/** What may be weighed against the money; the study may choose it. */
const WEIGHED = [{ value: '', text: 'what trades most' }, ...AXES]
const frees = computed(() => Object.keys(PRESETS).map((text) => ({ value: text, text })))
const pools = computed(() => {
  const each = (store.plan?.pools ?? []).map((p) => ({ value: p.id, text: nameOf(p) }))
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

const marks = computed(() => study.value?.marks ?? [])
const chosen = ref('')
watch(
  () => study.value?.first,
  (first) => (chosen.value = first ?? ''),
  { immediate: true },
)
const mark = computed(() => marks.value.find((m) => m.key === chosen.value) ?? null)
const asToday = computed(() => !!mark.value?.as_today)
const currency = computed(() => study.value?.currency ?? store.plan?.currency ?? 'EUR')
const sayMoney = (value: number) => money(value, currency.value)
const part = computed(() => PARTS.find((each) => each.field === study.value?.axis) ?? PARTS[0])
const sayAcross = (value: number) => (part.value ? sayPart(part.value)(value) : String(value))
const axisName = computed(() => part.value?.spoken ?? '')
/** The parts that the picture can be drawn over. */
const shown = computed(() =>
  AXES.filter(({ value }) => (study.value?.answer?.limits?.[value] ?? null) !== null),
)
const monday = computed(() => study.value?.question.weeks[0]?.monday ?? '')
/** Beside it stand the figures of what is pointed at. */
const frontWidth = computed(() => Math.max(width.value - 336, 320))
async function onBoard(): Promise<void> {
  const design = mark.value?.point
  if (!design || !store.settled || !study.value) return
  const { job, question } = study.value
  const [name, from] = [`${mark.value?.name ?? ''}, study ${job.id}`, question.pool]
  const answer = await told(withDesigns(store.settled, [{ job: job.id, design }]))
  tuner.problem.value = answer.problem
  if (!answer.data || store.id !== props.id) return
  ghosts.ghost = { of: props.id, plan: answer.data.plan as Plan, pool: from, name }
  void router.push({ name: 'board', params: { id: props.id }, query: { pool: from } })
}
async function takeOver(): Promise<void> {
  const point = mark.value?.point
  if (point) await tuner.takeOver(point)
}
/** Whether the design that is looked at is the one in the plan. */
const inPlan = computed(() => {
  const [point, plan] = [mark.value?.point, store.plan]
  if (!point || !plan) return false
  const own = plan.pools.find((each) => each.id === point.pool.id)
  const schedule = plan.schedules.find((each) => each.id === point.schedule.id)
  return !!own && !!schedule && same(own, point.pool) && same(schedule, point.schedule)
})
const print = () => window.print()
/** What all figures of the study are held against. */
const baseline = computed(() => {
  const found = study.value?.question.baseline
  const what = found ? `, r${found.revision}${found.edited ? ' with edits' : ''}` : ''
  return `today${what}, the same weeks`
})
/** What the day below shows beside today: what is pointed at, or the best so far. */
const ghost = computed(() => {
  const best = study.value?.so_far?.best
  if (study.value?.answer) return mark.value?.point ?? null
  return best ? { name: 'the best so far', ...best } : null
})
/** What a study that goes on does now. */
const doing = computed(() => {
  const found = study.value?.so_far
  const seconds = found?.seconds_left
  const left = seconds ? `, about ${duration(Math.ceil(seconds))} left` : ''
  const tried = `${count(found?.candidates ?? 0)} candidates tried`
  return `weeks, ${tried}: now ${found?.stage ?? 'waiting for a worker'}${left}`
})
</script>

<template>
  <PlanFrame :id="id" view="tuner">
    <EmptyView v-if="store.plan && !store.plan.pools.length" :id="id" view="tuner" />
    <main v-else-if="store.plan" class="tuner" :aria-busy="tuner.goesOn.value">
      <template v-if="pool">
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
              :options="WEIGHED"
              :model-value="tuner.axis.value"
              @update:model-value="(v) => (tuner.axis.value = v as typeof tuner.axis.value)"
            />, in
          </template>
          <ValueToken
            label="Weeks of candidates"
            path="StudyBody.budget"
            :model-value="tuner.budget.value"
            @update:model-value="(v) => tuner.setBudget(Number(v))"
          />
          weeks.
          <button class="primary" :disabled="busy" data-testid="search" @click="search">
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
        <QuestionMore v-else :tuner="tuner" />
        <ProblemNote v-if="!every && tuner.problem.value" :problem="tuner.problem.value" />
        <p v-if="!every && !study && tuner.number.value" class="quiet" role="status">
          Reading the study …
        </p>
        <WhereToBegin
          v-else-if="!every && !study"
          :chosen="pool.id"
          :currency="currency"
          @choose="(id) => tuner.go({ pool: id })"
        />
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
          <div
            v-if="study.answer"
            class="verdict"
            :class="{ unsure: !study.answer.tuned }"
            data-testid="verdict"
          >
            <p>
              <b>{{ study.answer.verdict }}</b>
            </p>
            <WeeksOfYear
              :rows="study.answer.year ?? []"
              :text="study.answer.over_the_year ?? ''"
              :say-money="sayMoney"
            />
            <p v-if="study.answer.worse_off" data-testid="worse-off">
              {{ study.answer.worse_off }}
            </p>
            <p v-if="study.answer.leaves" data-testid="leaves">{{ study.answer.leaves }}</p>
            <p v-if="study.answer.next_second" data-testid="next-second">
              {{ study.answer.next_second }}
            </p>
            <p v-if="study.answer.next_limit" data-testid="next-limit">
              {{ study.answer.next_limit }}
            </p>
            <p v-if="study.answer.cheaper" data-testid="cheaper">{{ study.answer.cheaper }}</p>
          </div>
          <div class="both">
            <div class="pictures">
              <p v-if="shown.length > 1" class="quiet drawn">
                Drawn over
                <ChoiceToken
                  label="What the picture is drawn over"
                  :options="shown"
                  :model-value="study.axis"
                  @update:model-value="(v) => tuner.drawOver(v as typeof study.axis)"
                />
              </p>
              <FrontPicture
                v-if="marks.length"
                :marks="marks"
                :ideal="study.answer?.ideal ?? study.so_far?.ideal ?? null"
                :limit="study.limit ?? null"
                :axis-name="axisName"
                :say-across="sayAcross"
                :say-money="sayMoney"
                :chosen="chosen"
                :width="frontWidth"
                @choose="(key) => (chosen = key)"
              />
              <PointWeek
                v-if="(study.answer || ghost) && monday"
                :plan="store.plan"
                :pool="study.question.pool"
                :job="study.job.id"
                :monday="monday"
                :point="ghost"
                :name="study.answer ? (mark?.name ?? '') : 'the best so far'"
                :width="frontWidth"
              />
            </div>
            <aside v-if="mark?.point" class="chosen" data-testid="chosen">
              <h3>{{ mark.name }}</h3>
              <PointFigures :point="mark.point" :say-money="sayMoney" />
              <p v-if="asToday" class="quiet" data-testid="as-today">
                {{
                  inPlan
                    ? 'It is the plan of today.'
                    : 'It is the plan as it was when this was asked.'
                }}
              </p>
              <p v-else>
                <button
                  class="primary"
                  data-testid="take-over"
                  :disabled="inPlan"
                  @click="takeOver"
                >
                  Take it over
                </button>
                <button class="link" data-testid="ghost" @click="onBoard">
                  See it as a ghost on the Board
                </button>
                <span v-if="inPlan" role="status">
                  It is in the plan; undo takes it back.
                  <RouterLink
                    :to="{
                      name: 'board',
                      params: { id: props.id },
                      query: { pool: study.question.pool },
                    }"
                    >See its week</RouterLink
                  >
                  <template v-if="tuner.both.value.length">
                    It sets otherwise what was changed here since the study began:
                    {{ tuner.both.value.join(', ') }}.
                  </template>
                </span>
              </p>
              <p v-if="study.answer">
                <button class="link" data-testid="print" @click="print">Print this study</button>
              </p>
              <p v-if="study.answer" class="quiet">
                {{ count(study.answer.candidates) }} candidates over
                {{ count(study.answer.weeks) }} weeks. Figures are of fresh weeks, used once.
                Baseline: {{ baseline }}.
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
        <StudySheet
          v-if="!every && study?.answer"
          :study="study"
          :plan="store.plan.name"
          :baseline="baseline"
          :say-money="sayMoney"
        />
        <StudyList v-if="tuner.rows.value.length" :tuner="tuner" :say-money="sayMoney" />
      </template>
    </main>
  </PlanFrame>
</template>

<style src="./tuner.css"></style>
<style scoped>
.tuner {
  overflow-y: auto;
  padding: 8px 16px 32px;
  display: flex;
  flex-direction: column;
  gap: 8px;
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
.drawn {
  font-size: 13px;
}
h3 {
  font-size: 14px;
  font-weight: 650;
}
@media (max-width: 900px) {
  .both {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
