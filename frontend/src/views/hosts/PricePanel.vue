<script setup lang="ts">
import { ref, shallowRef } from 'vue'

import { api, type Plan, type Problem, type SheetAnswer } from '@/api/client'
import { sent } from '@/ask/send'
import { told, type Reply } from '@/ask/told'
import { usePlan } from '@/plan/store'
import DateToken from '@/ui/DateToken.vue'
import FileToken from '@/ui/FileToken.vue'
import { handOver } from '@/ui/files'
import ProblemNote from '@/ui/ProblemNote.vue'

/** The price sheet: out as CSV or JSON, in from a file or from the simulated price feed. */
const props = defineProps<{ plan: Plan }>()
const preview = shallowRef<SheetAnswer | null>(null)
const from = ref('')
const problem = shallowRef<Problem | null>(null)
const day = ref(props.plan.week_of)
const SHOWN = 6

async function write(form: 'csv' | 'json'): Promise<void> {
  const found = await told(api.POST('/api/prices/sheet', sent({ plan: props.plan, form })))
  problem.value = found.problem
  if (!found.data) return
  handOver(found.data.name, new Blob([found.data.text]))
}
/** Asks for the prices that are shown once more, of a plan as it is then. */
let again: ((plan: Plan) => Promise<Reply<SheetAnswer>>) | null = null
async function show(
  send: (plan: Plan) => Promise<Reply<SheetAnswer>>,
  name: string,
): Promise<void> {
  const still = usePlan().here()
  const answer = await told(send(props.plan))
  if (!still()) return
  again = send
  problem.value = answer.problem
  preview.value = answer.data
  from.value = name
}
async function take(file: File): Promise<void> {
  const text = await file.text()
  await show((plan) => api.POST('/api/prices', sent({ plan, text })), file.name)
}
async function ask(): Promise<void> {
  const of = day.value
  const send = (plan: Plan) => api.POST('/api/prices/feed', sent({ plan, day: of }))
  await show(send, 'the simulated price feed')
}
async function apply(): Promise<void> {
  if (!again) return
  const found = await usePlan().change(again)
  problem.value = found.problem
  if (found.done) preview.value = null
}
</script>

<template>
  <section data-testid="prices">
    <h2>Price sheet</h2>
    <p>
      Out as <button class="link" data-testid="sheet-csv" @click="write('csv')">CSV</button> or
      <button class="link" @click="write('json')">JSON</button>;
      <FileToken accept=".csv,.json" data-testid="sheet-file" @file="take">in from a file</FileToken
      >; or
      <button class="link" data-testid="feed" @click="ask">ask the simulated price feed</button> for
      <DateToken v-model="day" label="Day of the prices" />.
    </p>
    <ProblemNote v-if="problem" :problem="problem" />
    <div v-if="preview" class="preview" data-testid="price-changes">
      <p>
        <b>{{ preview.changes.length }}</b>
        {{ preview.changes.length === 1 ? 'value differs' : 'values differ' }} in {{ from }}.
        <button
          class="link"
          :disabled="!preview.changes.length"
          data-testid="take-prices"
          @click="apply"
        >
          Take them
        </button>
        <button class="link" @click="preview = null">Leave them</button>
      </p>
      <p
        v-for="change in preview.changes.slice(0, SHOWN)"
        :key="change.item + change.field"
        class="change"
      >
        {{ change.item }} <span class="quiet">{{ change.field }}</span>
        {{ change.before || 'none' }} → <b>{{ change.after || 'none' }}</b>
      </p>
      <p v-if="preview.changes.length > SHOWN" class="quiet">
        and {{ preview.changes.length - SHOWN }} more
      </p>
    </div>
  </section>
</template>

<style scoped>
.preview {
  border-left: 3px solid var(--brass-line);
  padding-left: 8px;
  margin-top: 4px;
}
.change {
  font-variant-numeric: tabular-nums;
  font-size: 12.5px;
}
</style>
