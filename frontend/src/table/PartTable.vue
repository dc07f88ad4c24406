<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'

import { csvOf } from '@/chart/table'
import { hintOf } from '@/help/hints'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'

import { textOf, valueAt, type Column, type TableRow } from './columns'
import { moved } from './keys'
import { fitting, inOrder, pastedLines, pressed, usual, type Sorted } from './order'
import PasteDialog from './PasteDialog.vue'
import TableCell from './TableCell.vue'

/** Parts of the plan side by side, edited where they stand. What differs from most stands out. */
const props = defineProps<{
  label: string
  head: string
  columns: readonly Column[]
  rows: readonly TableRow[]
}>()
const store = usePlan()
const sorted = ref<Sorted | null>(null)
const filter = ref('')
const chosen = ref<string[] | null>(null)
const opened = ref('')
const said = ref('')
const pasting = shallowRef<{ column: Column; rows: TableRow[]; lines: string[] } | null>(null)

const shown = computed(() =>
  props.columns.filter((each) => chosen.value?.includes(each.field) ?? !each.rare),
)
const cell = (row: TableRow, column: Column) =>
  store.plan ? valueAt(store.plan, row, column) : undefined
const textAt = (row: TableRow, column: Column) => textOf(cell(row, column), row, column)
/** A cell to sort by: a number where one stands there, else what is shown. */
function sortable(row: TableRow, by: string): unknown {
  const column = props.columns.find((each) => each.field === by)
  if (!column) return row.name
  const value = cell(row, column)
  return typeof value === 'number' ? value : textAt(row, column)
}
const texts = (row: TableRow) => [row.name, ...shown.value.map((each) => textAt(row, each))]
const inView = computed(() =>
  inOrder(fitting(props.rows, filter.value, texts), sorted.value, sortable),
)
const usually = computed(() =>
  Object.fromEntries(
    shown.value.map((each) => [each.field, usual(props.rows.map((row) => textAt(row, each)))]),
  ),
)
function stands(row: TableRow, column: Column): boolean {
  const most = usually.value[column.field] ?? null
  return most !== null && textAt(row, column) !== most
}
/** Show the row of a part as its sentence. */
const open = (id: string) =>
  void (opened.value = props.rows.find((row) => row.part.id === id)?.key ?? '')
defineExpose({ open })
const order = (by: string) =>
  sorted.value?.by === by ? (sorted.value.down ? 'descending' : 'ascending') : 'none'
const mark = (by: string) => ({ ascending: ' ↑', descending: ' ↓', none: '' })[order(by)]

function choose(field: string, there: boolean): void {
  const now = shown.value.map((each) => each.field)
  chosen.value = there ? [...now, field] : now.filter((each) => each !== field)
}
async function copy(): Promise<void> {
  const head = [props.head, ...shown.value.map((each) => each.head)]
  try {
    await navigator.clipboard.writeText(csvOf({ head, rows: inView.value.map(texts) }))
    said.value = `${inView.value.length} rows are copied as CSV`
  } catch {
    said.value = 'The browser let nothing be copied'
  }
}
/** Several lines that are pasted into a cell go to it and to those below it. */
function paste(event: ClipboardEvent, place: number, column: Column): void {
  const lines = pastedLines(event.clipboardData?.getData('text/plain') ?? '')
  if (lines.length < 2) return
  event.preventDefault()
  pasting.value = { column, rows: inView.value.slice(place), lines }
}
function take(values: readonly [TableRow, unknown][]): void {
  const field = pasting.value?.column.field ?? ''
  store.edit((plan) => {
    for (const [row, value] of values) row.at.field(field).write(plan, value)
  })
  pasting.value = null
}
</script>

<template>
  <div class="parts">
    <p class="bar">
      <input
        v-model="filter"
        class="text-box"
        type="search"
        :aria-label="`Filter ${label}`"
        placeholder="only those with …"
      />
      <button class="link" @click="copy">Copy as CSV</button>
      <ElDropdown trigger="click" :hide-on-click="false">
        <button class="link">Columns</button>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem
              v-for="each in columns"
              :key="each.field"
              @click="choose(each.field, !shown.includes(each))"
            >
              <label @click.stop>
                <input
                  type="checkbox"
                  tabindex="-1"
                  :checked="shown.includes(each)"
                  @change="choose(each.field, !shown.includes(each))"
                />
                {{ each.head }}
              </label>
            </ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
      <span role="status" class="quiet">{{ said }}</span>
      <slot name="acts" />
    </p>
    <div class="frame" role="region" tabindex="0" :aria-label="label">
      <table class="lines" @keydown="moved">
        <thead>
          <tr>
            <th scope="col" :aria-sort="order('')">
              <button class="plain" @click="sorted = pressed(sorted, '')">
                {{ head }}{{ mark('') }}
              </button>
            </th>
            <th
              v-for="column in shown"
              :key="column.field"
              scope="col"
              :aria-sort="order(column.field)"
            >
              <button
                class="plain"
                :title="rows[0] && hintOf(rows[0].at.field(column.field).path)"
                @click="sorted = pressed(sorted, column.field)"
              >
                {{ column.head }}<small v-if="column.unit"> {{ column.unit }}</small
                >{{ mark(column.field) }}
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(row, place) in inView" :key="row.key">
            <tr>
              <th scope="row">
                <button
                  v-if="$slots.open"
                  class="plain more"
                  :aria-expanded="opened === row.key"
                  :aria-label="`${row.name} as a sentence`"
                  @click="opened = opened === row.key ? '' : row.key"
                >
                  {{ opened === row.key ? '▾' : '▸' }}
                </button>
                <slot name="name" :row="row">{{ row.name }}</slot>
              </th>
              <PlanPart :of="row.at">
                <td
                  v-for="column in shown"
                  :key="column.field"
                  :class="{ stands: stands(row, column) }"
                  @paste="paste($event, place, column)"
                >
                  <TableCell :row="row" :column="column" :value="cell(row, column)" />
                </td>
              </PlanPart>
            </tr>
            <tr v-if="opened === row.key">
              <td :colspan="shown.length + 1" class="opened">
                <slot name="open" :row="row" />
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <p v-if="!inView.length" class="quiet">Nothing here has that.</p>
    <PasteDialog v-if="pasting" v-bind="pasting" @take="take" @close="pasting = null" />
  </div>
</template>

<style src="./table.css"></style>
