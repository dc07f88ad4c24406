<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { Plan } from '@/api/client'
import { useWeeks } from '@/water/weeks'
import WaterChart from '@/water/WaterChart.vue'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { withDesigns, type Design } from './taken'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { WEEKDAYS } from '@/ui/format'

/** A day of the plan of today with the same day of what is pointed at as a ghost in it. */
const props = defineProps<{
  plan: Plan
  pool: string
  /** The study that found it. */
  job: number
  monday: string
  point: (Design & { name: string }) | null
  name: string
  width: number
}>()
const today = useWeeks()
const found = useWeeks()
const weekday = ref(0)
/** The plan with what is pointed at in it. */
const beside = useQuestion<{ plan: Plan; job: number; design: Design }, { plan: object }>(
  ({ plan, job, design }, call) => withDesigns(plan, [{ job, design }], call.signal),
  {
    key: ({ plan, design }) => keyOf(plan, design.pool, design.schedule),
    about: ({ job, design }) => keyOf(job, design.pool, design.schedule),
    urgent: () => true,
  },
)
watch(
  () => [props.plan, props.pool, props.monday, weekday.value] as const,
  ([plan, pool, first, day]) => today.ask({ plan, pool, first, saved: false, settled: false, day }),
  { immediate: true },
)
watch(
  () => [props.plan, props.point, props.job] as const,
  ([plan, design, job]) => {
    if (design) beside.ask({ plan, job, design })
    else beside.forget()
  },
  { immediate: true },
)
watch(
  () => [beside.answer.value?.plan, props.monday, weekday.value] as const,
  ([plan, first, day]) => {
    if (!plan) return found.forget()
    const of = { plan: plan as Plan, pool: props.pool }
    found.ask({ ...of, first, saved: false, settled: false, day })
  },
)
const day = computed(() => today.week?.days[weekday.value] ?? null)
const days = computed(() => WEEKDAYS.map((text, k) => ({ value: String(k), text })))
</script>

<template>
  <section class="week" :aria-label="`A day of today's plan, with ${name} as a ghost`">
    <p>
      <ChoiceToken
        label="Day that is shown"
        :options="days"
        :model-value="String(weekday)"
        @update:model-value="(v) => (weekday = Number(v))"
      />
      as the plan is today<template v-if="point && point.name !== 'today'"
        >, with {{ name }} as a ghost in it</template
      >
    </p>
    <WaterChart
      v-if="today.week && day"
      :week="today.week"
      :baseline="point && point.name !== 'today' ? found.week : null"
      :beside="name"
      :day="day"
      :bands="[]"
      :targets="[]"
      :selected="-1"
      :width="width"
      :height="230"
      :left="58"
      :right="48"
      :still="false"
      :stale="false"
      :fixed="true"
      data-testid="point-week"
    />
  </section>
</template>

<style scoped>
.week {
  min-width: 0;
}
</style>
