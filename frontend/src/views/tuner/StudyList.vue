<script setup lang="ts">
import { computed, ref } from 'vue'

import type { StudyRow } from '@/api/client'
import { useJobs } from '@/ask/jobs'
import { called } from '@/plan/called'
import { FREE_NAMES } from './names'
import { count } from '@/ui/format'

import type { Tuner } from './useTuner'

/** The studies of the plan, and how the tuned plan of another differs from that of the one shown. */
const props = defineProps<{ tuner: Tuner; sayMoney: (value: number) => string }>()

const shown = computed(() => props.tuner.study.value)
const jobs = useJobs()
/** How far a study is now; the list was read when it was asked for. */
function stateOf(row: StudyRow): string {
  return jobs.byId.get(row.job.id)?.state ?? row.job.state
}
function comparable(row: StudyRow): boolean {
  const study = shown.value
  return (
    !!study?.answer &&
    row.job.state === 'done' &&
    row.job.id !== study.job.id &&
    row.question.pool === study.question.pool
  )
}
const other = computed(() =>
  props.tuner.rows.value.find((row) => row.job.id === props.tuner.other.value),
)
/** The study that is about to be removed, until that is said once more. */
const leaving = ref<number | null>(null)
const found = (month: number | null | undefined) =>
  typeof month === 'number' ? `${props.sayMoney(month)} a month` : 'nothing found'
</script>

<template>
  <section class="history" aria-label="Studies of this plan">
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
              {{ called('pools', row.question.pool) }},
              {{ row.question.free.map((f) => FREE_NAMES[f] ?? f).join(', ') }}
            </button>
          </td>
          <td class="num">{{ count(row.question.budget) }} weeks</td>
          <td class="num">{{ row.today === null ? '' : `${sayMoney(row.today)} today` }}</td>
          <td class="num">{{ row.tuned === null ? '' : `${sayMoney(row.tuned)} tuned` }}</td>
          <td>{{ row.verdict || stateOf(row) }}</td>
          <td>
            <button
              v-if="comparable(row)"
              class="link"
              :aria-pressed="tuner.other.value === row.job.id"
              @click="tuner.compare(row.job.id)"
            >
              compare
            </button>
          </td>
          <td class="num">
            <button
              v-if="leaving !== row.job.id"
              class="link"
              :aria-label="`Remove study ${row.job.id}`"
              @click="leaving = row.job.id"
            >
              remove
            </button>
            <template v-else>
              <button class="link bad" @click="tuner.remove(row.job.id)">remove for good</button>
              <button class="link" @click="leaving = null">keep it</button>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
    <div v-if="tuner.differ.value && other" class="differ" data-testid="differ">
      <p>
        <b>
          The study that is shown: {{ found(shown?.answer?.tuned?.money.mean) }}; study
          {{ other.job.id }}: {{ found(other.tuned) }}.
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

<style scoped>
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
.history .link {
  text-align: left;
}
.history .on {
  background: var(--paper-raised);
}
.bad {
  color: var(--buoy);
  margin-right: 8px;
}
.num {
  text-align: right;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
.differ {
  border-left: 3px solid var(--brass-line);
  padding-left: 10px;
  margin-top: 8px;
  font-size: 13px;
}
</style>
