<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import { nameOf } from '@/plan/called'
import { PLAN } from '@/plan/lens'
import type { Column, TableRow } from '@/table/columns'
import PartTable from '@/table/PartTable.vue'

/** The bands of all kinds of day of a schedule side by side, for all pools that have it. */
const props = defineProps<{ plan: Plan; schedule: string }>()

const rows = computed<TableRow[]>(() =>
  PLAN.at('schedules')
    .item(props.schedule)
    .at('day_types')
    .rows(props.plan)
    .flatMap((kind) =>
      kind.at
        .at('bands')
        .rows(props.plan)
        .map(({ key, value, at }) => {
          const name = `${nameOf(kind.value)}, from ${value.from}`
          return { key, name, part: { id: value.from, name }, at: at as TableRow['at'] }
        }),
    ),
)
const COLUMNS: Column[] = [
  { field: 'floor', head: 'Floor' },
  { field: 'fill_ceiling', head: 'Fill ceiling', scale: 100, unit: '%' },
  { field: 'headroom', head: 'Free slots' },
  { field: 'rule', head: 'Next person to' },
  { field: 'release', head: 'Release' },
  { field: 'lid', head: 'Lid', none: 'none' },
  { field: 'session_limit', head: 'Sessions', none: "the pool's" },
  { field: 'floor_share', head: 'Floor share', scale: 100, unit: '%', rare: true },
  { field: 'headroom_share', head: 'Free share', scale: 100, unit: '%', rare: true },
  { field: 'knock', head: 'Knock', yes: 'starts a host', no: 'starts none', rare: true },
  { field: 'mark', head: 'Next host at', scale: 100, unit: '%', rare: true },
  { field: 'margin', head: 'Margin', rare: true },
  { field: 'least_run_minutes', head: 'Runs at least', unit: 'min', rare: true },
  { field: 'draining_most', head: 'Drain at most', none: 'any', rare: true },
  { field: 'draining_share', head: 'Drain share', scale: 100, unit: '%', rare: true },
]
</script>

<template>
  <PartTable label="All bands" head="Band" :columns="COLUMNS" :rows="rows" />
</template>
