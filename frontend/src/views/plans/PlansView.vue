<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import type { PlanSummary } from '@/api/client'
import ChoiceRow from '@/parts/ChoiceRow.vue'
import { fitting, inOrder } from '@/table/order'
import { night, toggleTheme } from '@/theme/theme'
import FileToken from '@/ui/FileToken.vue'
import { moment } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

import PlanRow from './PlanRow.vue'
import { LONGEST_NAME, useShelf } from './useShelf'

/** Every stored plan; a new one starts empty, or from a plan file. */
const shelf = useShelf()
const { plans, removed, problem, gone } = shelf
document.title = 'Plans – Idle Harbor'
const name = ref('')
const wanted = ref('')
const order = ref('saved')
const ORDERS = [
  { value: 'saved', text: 'Last saved first' },
  { value: 'name', text: 'By name' },
  { value: 'pools', text: 'Most pools first' },
]
const over = ref(false)
const rows = ref<Record<number, InstanceType<typeof PlanRow> | null>>({})

const shown = computed(() => {
  const found = fitting(plans.value ?? [], wanted.value, (each) => [
    each.name,
    each.words,
    each.author,
  ])
  if (order.value === 'saved') return found
  const by = { by: order.value, down: order.value === 'pools' }
  return inOrder(found, by, (each) => (order.value === 'name' ? each.name : each.pools))
})

function begin(): void {
  if (!name.value.trim()) return
  const today = new Date()
  const date = [today.getFullYear(), today.getMonth() + 1, today.getDate()]
    .map((part) => String(part).padStart(2, '0'))
    .join('-')
  void shelf.create({ name: name.value.trim(), week_of: date }, 'begun')
}
async function copy(plan: PlanSummary, number?: number): Promise<void> {
  const id = await shelf.copy(plan, number)
  if (id === null) return
  wanted.value = ''
  await nextTick()
  await rows.value[id]?.begin()
}
function drop(event: DragEvent): void {
  over.value = false
  const file = event.dataTransfer?.files[0]
  if (file) void shelf.take(file)
}
</script>

<template>
  <main
    class="plans"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave.self="over = false"
    @drop.prevent="drop"
  >
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
      <p><button class="link" @click="shelf.load">Read the list again</button></p>
    </ProblemNote>
    <section class="begin">
      <form @submit.prevent="begin">
        <label for="name">A new plan called</label>
        <input
          id="name"
          v-model="name"
          class="text-box"
          :maxlength="LONGEST_NAME"
          data-testid="new-name"
        />
        <ElButton
          type="primary"
          native-type="submit"
          :disabled="!name.trim()"
          data-testid="new-plan"
        >
          Begin empty
        </ElButton>
        <span>
          or
          <FileToken accept=".json,application/json" @file="shelf.take">take a plan file</FileToken>
          (or drop one here)
        </span>
      </form>
    </section>
    <section>
      <div class="head">
        <h2>Plans</h2>
        <template v-if="plans?.length">
          <input
            v-model="wanted"
            class="text-box"
            type="search"
            aria-label="Find a plan"
            placeholder="name, words or author"
          />
          <ChoiceRow v-model="order" label="Order of the plans" :options="ORDERS" />
        </template>
        <p v-if="gone" role="status">
          {{ gone.name }} is removed.
          <button class="link" @click="shelf.restore(gone.id)">Undo</button>
        </p>
      </div>
      <p v-if="plans === null && !problem" class="quiet">Looking …</p>
      <p v-else-if="plans?.length === 0" class="quiet">
        No plan yet. A plan holds people, pools and schedules; its week is simulated as soon as it
        has one of each.
      </p>
      <p v-else-if="plans && !shown.length" class="quiet">No plan has “{{ wanted }}” in it.</p>
      <ul v-else aria-label="Plans">
        <PlanRow
          v-for="plan in shown"
          :key="plan.id"
          :ref="(row) => (rows[plan.id] = row as InstanceType<typeof PlanRow> | null)"
          :plan="plan"
          :rename="shelf.rename"
          @copy="(number) => copy(plan, number)"
          @remove="shelf.remove(plan)"
        />
      </ul>
    </section>
    <section v-if="removed.length">
      <h2>Removed</h2>
      <ul aria-label="Removed plans">
        <li v-for="each in removed" :key="each.id" class="removed">
          <span>{{ each.name }}</span>
          <span class="quiet">kept until {{ moment(each.kept_until) }}</span>
          <button class="link" @click="shelf.restore(each.id)">Restore</button>
        </li>
      </ul>
    </section>
  </main>
</template>

<style scoped>
.plans {
  max-width: 1080px;
  min-height: 100vh;
  margin: 0 auto;
  padding: 32px 24px;
}
.over {
  outline: 3px dashed var(--brass-line);
  outline-offset: -10px;
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
}
section {
  margin-top: 20px;
}
.quay {
  fill: none;
  stroke: var(--brass);
  stroke-width: 4;
}
.water {
  fill: var(--water-1);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  align-items: baseline;
  border-bottom: 1px solid var(--hair-strong);
  padding-bottom: 4px;
}
.head input {
  width: 190px;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}
form .text-box {
  width: 280px;
}
.removed {
  display: flex;
  gap: 20px;
  padding: 3px 0;
}
.theme {
  width: 32px;
  height: 32px;
  text-align: center;
  font-size: 16px;
}
</style>
