<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'

import { api, type Job, type Plan, type Pool, type Problem, type WeekOfYear } from '@/api/client'
import { sent } from '@/ask/send'
import { told } from '@/ask/told'
import YearStrip from '@/board/YearStrip.vue'
import { isLive, useJobs } from '@/stores/jobs'
import { count } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

/** A year of the pool, week by week: simulated as long work, shown as its weeks are done. */
const props = defineProps<{ plan: Plan; pool: Pool; year: number; first: string }>()
const emit = defineEmits<{ choose: [monday: string]; year: [year: number] }>()

const jobs = useJobs()
const problem = shallowRef<Problem | null>(null)
const asked = shallowRef<{ id: number; plan: Plan; pool: string; year: number } | null>(null)
const job = computed<Job | undefined>(() =>
  asked.value ? jobs.byId.get(asked.value.id) : undefined,
)
const weeks = shallowRef<(WeekOfYear | undefined)[]>([])
/** Whether the plan has changed since the year was asked for. */
const old = computed(() => asked.value !== null && asked.value.plan !== props.plan)

async function ask(): Promise<void> {
  const { plan, pool, year } = props
  const answer = await told(
    api.POST(
      '/api/jobs/year',
      sent({ plan, pool: pool.id, year, owner: 'board', tab: '', edit: 0 }),
    ),
  )
  problem.value = answer.problem
  if (!answer.data) return
  weeks.value = Array.from({ length: answer.data.job.parts })
  asked.value = { id: answer.data.job.id, plan, pool: pool.id, year }
  jobs.put([answer.data.job])
}
watch([() => props.pool.id, () => props.year], () => void ask(), { immediate: true })

/** What is done is looked at whenever more is. */
async function look(id: number): Promise<void> {
  const path = { job_id: id }
  const answer = await told(api.GET('/api/jobs/{job_id}/weeks', { params: { path, query: {} } }))
  if (answer.problem) problem.value = answer.problem
  if (!answer.data || asked.value?.id !== id) return
  const found: (WeekOfYear | undefined)[] = Array.from({ length: answer.data.job.parts })
  answer.data.places.forEach((place, k) => (found[place] = answer.data.weeks[k]))
  weeks.value = found
}
watch(
  () => [job.value?.id, job.value?.done, job.value?.state],
  () => job.value && void look(job.value.id),
)
const broken = computed(() => weeks.value.filter((each) => each && !each.kept).length)
const done = computed(() => weeks.value.filter(Boolean).length)
</script>

<template>
  <section class="year" aria-label="The year, week by week" data-testid="year-of-weeks">
    <p>
      <button class="link" :aria-label="`Weeks of ${year - 1}`" @click="emit('year', year - 1)">
        ‹
      </button>
      <b>{{ year }}</b>
      <button class="link" :aria-label="`Weeks of ${year + 1}`" @click="emit('year', year + 1)">
        ›
      </button>
      <template v-if="job && isLive(job)">
        {{ count(done) }} of {{ count(job.parts) }} weeks are simulated.
        <button class="link" @click="jobs.stop(job.id)">Stop</button>
      </template>
      <template v-else-if="job?.state === 'done'">
        In {{ broken ? count(broken) : 'none' }} of {{ count(done) }} weeks the promise is broken.
      </template>
      <template v-else-if="job"> It was ended after {{ count(done) }} weeks. </template>
      <button v-if="old || (job && !isLive(job) && job.state !== 'done')" class="link" @click="ask">
        {{ old ? 'The plan has changed: simulate it anew' : 'Go on' }}
      </button>
    </p>
    <ProblemNote v-if="problem" :problem="problem" />
    <YearStrip
      v-if="weeks.length"
      :weeks="weeks"
      :year="year"
      :pool="pool.id"
      :currency="plan.currency"
      :first="first"
      @choose="emit('choose', $event)"
    />
  </section>
</template>

<style scoped>
.year {
  padding: 2px 16px;
  border-top: 1px solid var(--hair-strong);
  font-size: 12.5px;
  flex: none;
}
p {
  display: flex;
  gap: 8px;
}
</style>
