<script setup lang="ts">
import { computed } from 'vue'

import { usePlan } from '@/plan/store'

import { readText, textOf, valueAt, type Column, type TableRow } from './columns'

/** What a pasted column would change, before it does: all of it, or nothing. */
const props = defineProps<{ column: Column; rows: readonly TableRow[]; lines: readonly string[] }>()
const emit = defineEmits<{ take: [values: [TableRow, unknown][]]; close: [] }>()
const store = usePlan()

const found = computed(() =>
  props.lines.map((line, place) => {
    const row = props.rows[place]
    if (!row || !store.plan) return { line, wrong: 'there is no row for it' }
    const before = valueAt(store.plan, row, props.column)
    const read =
      before === undefined
        ? { wrong: 'it has no such field' }
        : readText(line, row, props.column, before)
    return { line, row, before: textOf(before, row, props.column), ...read }
  }),
)
const wrong = computed(() => found.value.filter((each) => 'wrong' in each).length)

function take(): void {
  const values = found.value.flatMap((each): [TableRow, unknown][] =>
    'row' in each && each.row && 'value' in each ? [[each.row, each.value]] : [],
  )
  emit('take', values)
}
</script>

<template>
  <ElDialog
    model-value
    :title="`${lines.length} values for ${column.head}`"
    width="560px"
    align-center
    data-testid="pasted"
    @update:model-value="emit('close')"
  >
    <table class="lines">
      <thead>
        <tr>
          <th scope="col">Row</th>
          <th scope="col">Now</th>
          <th scope="col">Then</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(each, place) in found" :key="place">
          <th scope="row">{{ 'row' in each ? each.row?.name : '–' }}</th>
          <td>{{ 'before' in each ? each.before : '' }}</td>
          <td>
            {{ each.line }}<span v-if="'wrong' in each" class="bad"> ✕ {{ each.wrong }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <template #footer>
      <span v-if="wrong" role="alert">{{ wrong }} cannot be: nothing is changed. </span>
      <ElButton @click="emit('close')">Leave it</ElButton>
      <ElButton type="primary" :disabled="wrong > 0" @click="take">Take them all</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.bad {
  color: var(--buoy);
}
</style>
