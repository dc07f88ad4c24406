<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import NameToken from '@/parts/NameToken.vue'
import PartActs from '@/parts/PartActs.vue'
import { PLAN } from '@/plan/lens'
import { optionsOf, tableRows, type Column } from '@/table/columns'
import PartTable from '@/table/PartTable.vue'

/** The settings of all pools side by side. */
const props = defineProps<{ plan: Plan }>()
const emit = defineEmits<{ made: [pool: string]; gone: [] }>()
const rows = computed(() => tableRows(PLAN.at('pools').rows(props.plan)))
const columns = computed<Column[]>(() => [
  { field: 'size', head: 'Size', options: optionsOf(props.plan.sizes) },
  { field: 'session_limit', head: 'Sessions' },
  { field: 'hosts.standing', head: 'Standing' },
  { field: 'hosts.surge', head: 'Surge' },
  { field: 'schedule', head: 'Schedule', options: optionsOf(props.plan.schedules) },
  { field: 'idle_timeout', head: 'Idle', kind: 'timeout', unit: 'min' },
  { field: 'disconnected_timeout', head: 'Disconnected', kind: 'timeout', unit: 'min' },
  { field: 'start.mean_seconds', head: 'Start', unit: 's' },
  { field: 'start.parallel', head: 'At once', none: 'any' },
  { field: 'disk', head: 'Disk', options: optionsOf(props.plan.disks), none: 'none', rare: true },
  { field: 'image', head: 'Image', options: optionsOf(props.plan.images), none: 'none', rare: true },
  { field: 'start.counts_from', head: 'Counts from', rare: true },
  { field: 'start.failure_share', head: 'Failed starts', scale: 100, unit: '%', rare: true },
  { field: 'stop_seconds', head: 'Stop', unit: 's', rare: true },
  { field: 'reset_seconds', head: 'Cleaning', unit: 's', rare: true },
  { field: 'patience_seconds', head: 'Patience', unit: 's', rare: true },
  { field: 'time_zone', head: 'Time zone', kind: 'text', rare: true },
  { field: 'first_date', head: 'First date', kind: 'date', none: 'the beginning', rare: true },
  { field: 'last_date', head: 'Last date', kind: 'date', none: 'no end', rare: true },
])
</script>

<template>
  <PartTable label="Settings of all pools" head="Pool" :columns="columns" :rows="rows">
    <template #name="{ row }"><NameToken what="pool" :part="row.part" /></template>
    <template #open="{ row }">
      <PartActs
        what="pool"
        :part="row.part"
        @made="(id) => emit('made', id)"
        @gone="emit('gone')"
      />
    </template>
  </PartTable>
</template>
