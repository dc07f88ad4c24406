<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import { PLAN } from '@/plan/lens'
import { optionsOf, tableRows, type Column } from '@/table/columns'
import PartTable from '@/table/PartTable.vue'

/** All groups side by side; a group's pattern is edited as a picture once it is looked at. */
const props = defineProps<{ plan: Plan; look: (group: string) => void }>()

const rows = computed(() => tableRows(PLAN.at('groups').rows(props.plan)))
const columns = computed<Column[]>(() => [
  { field: 'demand.people', head: 'People' },
  { field: 'site', head: 'Site', options: optionsOf(props.plan.sites) },
  { field: 'profile', head: 'Workload', options: optionsOf(props.plan.profiles) },
  { field: 'works_holidays', head: 'On holidays', yes: 'works', no: 'rests' },
  { field: 'growth.per_year', head: 'Growth a year', unit: '%', scale: 100, rare: true },
  { field: 'demand.session.mean_minutes', head: 'Visit', unit: 'min', rare: true },
])
</script>

<template>
  <section data-testid="groups">
    <h2>Groups</h2>
    <PartTable label="Groups" head="Group" :columns="columns" :rows="rows">
      <template #name="{ row }">
        <button class="link" @click="look(row.part.id)">{{ row.name }}</button>
      </template>
    </PartTable>
  </section>
</template>

<style scoped>
section {
  padding: 6px 16px;
}
h2 {
  font-size: 14px;
  font-weight: 650;
}
</style>
