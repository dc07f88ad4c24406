<script setup lang="ts">
import { computed } from 'vue'

import { choicesOf, type Choice } from '@/help/hints'

import ChoiceToken from './ChoiceToken.vue'
import DateToken from './DateToken.vue'
import { useScope } from './scope'
import type { Typed } from './typing'
import ValueToken from './ValueToken.vue'

/** One field of the scope's part as a token: read, checked by the field table, written back. */
const props = defineProps<{
  field: string
  label: string
  kind?: Typed | 'date'
  unit?: string
  scale?: number
  list?: string
  allowed?: readonly string[]
  /** What may stand here where that is not declared: names of the plan. */
  options?: readonly Choice[]
  /** What choices are called inside the sentence. */
  called?: Record<string, string>
  /** What the choice is called that leaves the field without a value. */
  none?: string
  /** What is said of a field that is so or not. */
  yes?: string
  no?: string
}>()
const scope = useScope()
const value = computed(() => scope.read(props.field) as number | string | boolean | null)
const path = computed(() => scope.pathOf(props.field))
const choices = computed<Choice[]>(() => {
  if (props.yes !== undefined && props.no !== undefined)
    return [
      { value: 'false', text: props.no },
      { value: 'true', text: props.yes },
    ]
  const named = props.options ?? choicesOf(path.value, props.called)
  return props.none === undefined ? [...named] : [{ value: '', text: props.none }, ...named]
})
const typed = computed(() => value.value as number | string)

function choose(chosen: string): void {
  if (props.yes !== undefined) scope.set(props.field, chosen === 'true')
  else scope.set(props.field, chosen === '' ? null : chosen)
}
</script>

<template>
  <ChoiceToken
    v-if="options || choices.length"
    :label="label"
    :path="path"
    :options="choices"
    :model-value="String(value ?? '')"
    @update:model-value="choose"
  />
  <DateToken
    v-else-if="kind === 'date'"
    :label="label"
    :model-value="String(value)"
    @update:model-value="scope.set(field, $event)"
  />
  <ValueToken
    v-else
    :label="label"
    :path="path"
    :kind="kind"
    :unit="unit"
    :scale="scale"
    :list="list"
    :allowed="allowed"
    :model-value="typed"
    @update:model-value="scope.set(field, $event)"
  />
</template>
