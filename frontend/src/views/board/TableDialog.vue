<script setup lang="ts">
import type { Plan, WordsAnswer } from '@/api/client'
import { words } from '@/ui/format'

import BandTable from './BandTable.vue'

/** The schedule as tables: its bands to be edited, and a row for each rule of every band to be read.
 *
 * The place is that of the chosen band in the plan that the table was made of. */
const props = defineProps<{
  open: boolean
  plan: Plan
  schedule: string
  table: WordsAnswer['table']
  place: { dayType: number; band: number }
}>()
const emit = defineEmits<{ close: [] }>()

type Column = WordsAnswer['table']['columns'][number]
const here = (column?: Column) =>
  column?.day_type === props.place.dayType && column.band === props.place.band
/** Kinds of day with as many columns as they have bands. */
function spans(): { name: string; wide: number }[] {
  const found: { name: string; wide: number }[] = []
  for (const column of props.table.columns) {
    const last = found.at(-1)
    if (column.band === 0 || !last) found.push({ name: column.name, wide: 1 })
    else last.wide += 1
  }
  return found
}
</script>

<template>
  <ElDialog
    :model-value="open"
    title="The schedule as a table"
    width="960px"
    align-center
    data-testid="schedule-table"
    @update:model-value="emit('close')"
  >
    <BandTable :plan="plan" :schedule="schedule" />
    <h3>Every rule, as it is read</h3>
    <div class="frame" tabindex="0" role="region" aria-label="Rules of every band">
      <table>
        <thead>
          <tr>
            <td></td>
            <th v-for="kind in spans()" :key="kind.name" :colspan="kind.wide" scope="colgroup">
              {{ words(kind.name) }}
            </th>
          </tr>
          <tr>
            <td></td>
            <th
              v-for="column in table.columns"
              :key="`${column.name} ${column.begins}`"
              scope="col"
              :class="{ here: here(column) }"
            >
              from {{ column.begins }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in table.rows" :key="row.label">
            <th scope="row">{{ row.label }}</th>
            <td v-for="(cell, k) in row.cells" :key="k" :class="{ here: here(table.columns[k]) }">
              {{ cell || '–' }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </ElDialog>
</template>

<style scoped>
.frame {
  max-height: 34vh;
  overflow: auto;
}
table {
  border-collapse: collapse;
  font-size: 13px;
}
th,
td {
  text-align: left;
  padding: 3px 12px 3px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
}
th[scope='row'] {
  font-weight: 400;
  color: var(--ink-quiet);
}
.here {
  background: var(--brass-wash);
  box-shadow: -6px 0 0 var(--brass-wash);
}
</style>
