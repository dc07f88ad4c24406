<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { api, type PlanSummary, type Problem } from '@/api/client'
import { told } from '@/ask/told'
import { night, toggleTheme } from '@/theme/theme'
import { fileName } from '@/ui/files'
import ProblemNote from '@/ui/ProblemNote.vue'

/** Every stored plan; a new one starts empty, or from a plan file. */
const router = useRouter()
const plans = shallowRef<PlanSummary[] | null>(null)
const problem = shallowRef<Problem | null>(null)
const name = ref('')

async function load(): Promise<void> {
  const answer = await told(api.GET('/api/plans'))
  if (answer.data) plans.value = answer.data.plans
  problem.value = answer.problem
}
onMounted(load)
/** Whoever has left is not led to a plan that comes late. */
let here = true
onBeforeUnmount(() => (here = false))

async function create(plan: Record<string, unknown>, words: string): Promise<void> {
  problem.value = null
  const body = { plan: plan as never, words, author: 'planner' }
  const answer = await told(api.POST('/api/plans', { body }))
  problem.value = answer.problem
  if (answer.data && here) await router.push({ name: 'board', params: { id: answer.data.id } })
}

function begin(): void {
  if (!name.value.trim()) return
  const today = new Date()
  const date = [today.getFullYear(), today.getMonth() + 1, today.getDate()]
    .map((part) => String(part).padStart(2, '0'))
    .join('-')
  void create({ name: name.value.trim(), week_of: date }, 'begun')
}

async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  try {
    await create(JSON.parse(await file.text()), `from ${file.name}`.slice(0, 200))
  } catch (error) {
    problem.value = {
      type: '/problems/plan-cannot-be',
      title: 'This file is not a plan',
      status: 422,
      detail: `${file.name}: ${error instanceof Error ? error.message : 'not JSON'}`,
      remedy: 'choose a plan file in JSON',
      faults: [],
    }
  }
  input.value = ''
}

const when = (text: string) =>
  new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' }).format(
    new Date(text),
  )
</script>

<template>
  <main class="plans">
    <header>
      <svg viewBox="0 0 60 40" width="60" height="40" aria-hidden="true">
        <path d="M2 8h18v10h20v-8h18" class="quay" />
        <path d="M2 38v-10c8-5 16-5 24 0s20 5 32-1.600v11.600z" class="water" />
      </svg>
      <div>
        <h1>Idle Harbor</h1>
        <p class="quiet">
          Every setting shows at once what people will feel and what it will cost.
        </p>
      </div>
      <button
        class="plain theme"
        :aria-label="night ? 'Show the day chart' : 'Show the night chart'"
        @click="toggleTheme"
      >
        {{ night ? '☀' : '☾' }}
      </button>
    </header>
    <ProblemNote v-if="problem" :problem="problem">
      <p><button class="link" @click="load">Try again</button></p>
    </ProblemNote>
    <section>
      <h2>Plans</h2>
      <p v-if="plans === null && !problem" class="quiet">Looking …</p>
      <p v-else-if="plans?.length === 0" class="quiet">No plan yet. Begin one below.</p>
      <table v-else-if="plans">
        <thead>
          <tr>
            <th>Plan</th>
            <th>Revision</th>
            <th>Last change</th>
            <th>Saved</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="plan in plans" :key="plan.id">
            <td>
              <RouterLink :to="{ name: 'board', params: { id: plan.id } }" data-testid="plan">
                {{ plan.name }}
              </RouterLink>
            </td>
            <td>r{{ plan.number }}</td>
            <td>
              {{ plan.words || '–' }} <span class="quiet">by {{ plan.author }}</span>
            </td>
            <td>{{ when(plan.saved_at) }}</td>
            <td>
              <a :href="`/api/plans/${plan.id}/document`" :download="fileName(plan.name, 'json')"
                >as JSON</a
              >
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="begin">
      <h2>Begin</h2>
      <form @submit.prevent="begin">
        <label for="name">A new plan called</label>
        <ElInput id="name" v-model="name" maxlength="120" data-testid="new-name" />
        <ElButton
          type="primary"
          native-type="submit"
          :disabled="!name.trim()"
          data-testid="new-plan"
        >
          Begin empty
        </ElButton>
      </form>
      <p>
        <label class="file">
          or from a plan file
          <input
            type="file"
            accept=".json,application/json"
            data-testid="plan-file"
            @change="take"
          />
        </label>
      </p>
    </section>
  </main>
</template>

<style scoped>
.plans {
  max-width: 860px;
  margin: 0 auto;
  padding: 40px 24px;
}
header {
  display: flex;
  gap: 20px;
  align-items: center;
  border-bottom: 3px solid var(--brass);
  padding-bottom: 16px;
}
header div {
  flex: 1;
}
h1 {
  font-size: 26px;
  font-weight: 650;
}
h2 {
  font-size: 15px;
  font-weight: 650;
  margin: 28px 0 8px;
}
.quay {
  fill: none;
  stroke: var(--brass);
  stroke-width: 4;
}
.water {
  fill: var(--water-1);
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--ink-quiet);
  border-bottom: 1px solid var(--hair-strong);
}
td {
  padding: 6px 12px 6px 0;
  border-bottom: 1px solid var(--hair);
}
a {
  color: var(--ink);
}
td:first-child a {
  font-weight: 650;
  font-size: 15px;
}
form {
  display: flex;
  gap: 12px;
  align-items: center;
}
form .el-input {
  width: 280px;
}
.begin p {
  margin-top: 12px;
}
.theme {
  width: 32px;
  height: 32px;
  text-align: center;
  font-size: 16px;
}
</style>
