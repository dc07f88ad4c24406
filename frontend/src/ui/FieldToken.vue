<script setup lang="ts">
import { computed } from 'vue'

import ChoiceToken from './ChoiceToken.vue'
import { read, useScope, write } from './scope'
import type { Typed } from './typing'
import ValueToken from './ValueToken.vue'

/** One field of the scope's part as a token: read, checked by the field table, written back. */
const props = defineProps<{
  field: string
  label: string
  kind?: Typed
  unit?: string
  scale?: number
  list?: string
  allowed?: readonly string[]
  options?: readonly { value: string; text: string }[]
}>()
const scope = useScope()
const value = computed(() => read(scope.value(), props.field) as number | string)
const path = computed(() => {
  const plain = props.field.replaceAll(/\.\d+/g, '')
  return scope.path ? `${scope.path}.${plain}` : plain
})

function set(next: number | string): void {
  scope.edit((part) => write(part, props.field, next))
}
</script>

<template>
  <ChoiceToken
    v-if="options"
    :label="label"
    :path="path"
    :options="options"
    :model-value="String(value)"
    @update:model-value="set"
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
    :model-value="value"
    @update:model-value="set"
  />
</template>
