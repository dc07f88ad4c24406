<script setup lang="ts">
import { computed } from 'vue'

import type { Study } from '@/api/client'
import { called } from '@/plan/called'
import { counted, meanOf, words } from '@/ui/format'
import { PARTS, sayPart, STANDING_MARK } from '@/ui/promise'

/** A study on paper: today and tuned side by side, the changes, the weeks, and who is worse off. */
const props = defineProps<{ study: Study; plan: string; baseline: string; sayMoney: (value: number) => string }>()

const answer = computed(() => props.study.answer)
const points = computed(() => {
  const found = answer.value
  if (!found) return []
  return [
    { name: 'today', point: found.current },
    ...(found.tuned ? [{ name: 'tuned', point: found.tuned }] : []),
  ]
})
const limit = (field: string) => answer.value?.limits?.[field] ?? null
const parts = computed(() => PARTS.filter((part) => limit(part.field) !== null))
</script>

<template>
  <section v-if="answer" class="sheet" data-testid="sheet">
    <h2>{{ plan }}: the settings of {{ called('pools', study.question.pool) }}</h2>
    <p>{{ answer.verdict }} {{ answer.worse_off }} {{ answer.over_the_year }} {{ answer.leaves }}</p>
    <table>
      <thead>
        <tr>
          <th scope="col">Promise</th>
          <th scope="col">Limit</th>
          <th v-for="each in points" :key="each.name" scope="col">{{ each.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">A month, of what settings can change</th>
          <td></td>
          <td v-for="each in points" :key="each.name">
            {{ sayMoney(each.point.money.mean ?? 0) }}
          </td>
        </tr>
        <tr v-for="part in parts" :key="part.field">
          <th scope="row">{{ part.title }}</th>
          <td>{{ sayPart(part)(limit(part.field) ?? 0) }}</td>
          <td v-for="each in points" :key="each.name">
            {{ STANDING_MARK[each.point.standings[part.field] ?? 'kept'] }}
            {{ meanOf(each.point.promised[part.field], sayPart(part)) }}
          </td>
        </tr>
      </tbody>
    </table>
    <template v-if="answer.explained">
      <h3>Changes</h3>
      <ol>
        <li v-for="(step, k) in answer.explained.steps" :key="k">
          {{ step.change }}. {{ step.text }}
        </li>
      </ol>
    </template>
    <h3>Weeks</h3>
    <ul>
      <li v-for="row in answer.year" :key="row.week.name">
        {{ words(row.week.name) }}, {{ row.week.monday }}: {{ row.text }}
      </li>
      <li>
        {{ counted(answer.candidates, 'candidate') }} over {{ counted(answer.weeks, 'week') }}; all figures
        are of fresh weeks. Baseline: {{ baseline }}.
      </li>
    </ul>
  </section>
</template>

<style scoped>
.sheet {
  display: none;
}
@media print {
  .sheet {
    display: block;
    font-size: 11pt;
  }
}
table {
  border-collapse: collapse;
  margin: 8px 0;
}
th,
td {
  text-align: left;
  font-weight: 400;
  padding: 2px 18px 2px 0;
  border-bottom: 1px solid var(--hair);
}
</style>
