<script setup lang="ts">
import { computed } from 'vue'

import type { Study } from '@/api/client'
import { STANDING_LOOK, STANDING_MARK } from '@/ui/promise'
import { words } from '@/ui/format'

type Row = NonNullable<NonNullable<Study['answer']>['year']>[number]

/** Today's and the tuned plan in each kind of week of the year: wide where many weeks are like it. */
const props = defineProps<{
  rows: readonly Row[]
  text: string
  sayMoney: (value: number) => string
}>()

const conditions = (row: Row) =>
  [
    row.week.people === 1 ? '' : `${Math.round(row.week.people * 100)} % of the people`,
    row.week.starts === 1 ? '' : `starts × ${row.week.starts}`,
    row.week.zone_lost ? 'a zone lost' : '',
    row.week.hosts_failed ? 'hosts fail' : '',
  ].filter(Boolean)
const often = (row: Row) => {
  const found = conditions(row)
  if (found.length) return found.join(', ')
  const weeks = row.week.weight ?? 1
  return weeks === 1 ? 'one week' : `${weeks} weeks like it`
}
const plans = computed(() => [
  { key: 'today' as const, name: 'today' },
  { key: 'tuned' as const, name: 'tuned' },
])
</script>

<template>
  <section class="year" data-testid="weeks-of-year">
    <p v-if="text">{{ text }}</p>
    <ol v-if="rows.length > 1">
      <li
        v-for="row in rows"
        :key="row.week.name"
        :class="{ worse: row.worse }"
        :title="`${words(row.week.name)}: ${row.text}`"
      >
        <b>{{ words(row.week.name) }}</b>
        <small class="quiet">{{ row.week.monday }} · {{ often(row) }}</small>
        <span v-for="plan in plans" :key="plan.key" :class="STANDING_LOOK[row[plan.key].standing]">
          {{ STANDING_MARK[row[plan.key].standing] }} {{ plan.name }}
          {{ props.sayMoney(row[plan.key].money.mean ?? 0) }}
        </span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.year {
  font-size: 13px;
}
ol {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  border-top: 2px solid var(--hair-strong);
  padding-top: 2px;
  font-variant-numeric: tabular-nums;
}
li.worse {
  border-top-color: var(--buoy);
}
.risk {
  color: var(--brass);
}
</style>
