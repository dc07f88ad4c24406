<script setup lang="ts">
import { computed } from 'vue'

import { hintOf } from '@/help/hints'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import DateToken from '@/ui/DateToken.vue'
import { useScope } from '@/ui/scope'
import ValueToken from '@/ui/ValueToken.vue'

import { choicesFor, kindOf, readText, textOf, type Column, type TableRow, type Value } from './columns'

/** One field of a row, typed or chosen where it stands. */
const props = defineProps<{ row: TableRow; column: Column; value: Value }>()
const scope = useScope()
const path = computed(() => scope.pathOf(props.column.field))
const choices = computed(() => choicesFor(props.row, props.column))
const label = computed(() => `${props.column.head} of ${props.row.name}`)
const kind = computed(() => kindOf(props.value, props.column))
const shown = computed(() => props.value as number | string)
const timed = computed(() => props.column.kind === 'timeout')

/** A word or a text that stands for a value of the plan. */
function take(text: string | number): void {
  const read = readText(String(text), props.row, props.column)
  if ('value' in read) scope.set(props.column.field, read.value)
}
</script>

<template>
  <span v-if="value === undefined" class="quiet" :title="hintOf(path)">–</span>
  <ChoiceToken
    v-else-if="choices.length"
    :label="label"
    :path="path"
    :options="choices"
    :model-value="String(value ?? '')"
    @update:model-value="take"
  />
  <DateToken
    v-else-if="kind === 'date' && column.none === undefined"
    :label="label"
    :model-value="String(value)"
    @update:model-value="(day) => scope.set(column.field, day)"
  />
  <ValueToken
    v-else-if="column.none !== undefined || timed"
    :label="label"
    :path="path"
    kind="text"
    :model-value="textOf(value, row, column)"
    :check="(text) => readText(text, row, column)"
    @update:model-value="take"
  />
  <ValueToken
    v-else
    :label="label"
    :path="path"
    :kind="kind === 'date' ? 'text' : kind"
    :scale="column.scale"
    :model-value="shown"
    @update:model-value="(next) => scope.set(column.field, next)"
  />
</template>
