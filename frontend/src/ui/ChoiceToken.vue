<script setup lang="ts">
import { computed } from 'vue'

import { hintOf } from '@/help/hints'

/** A choice inside a sentence, changed where it stands. */
const props = defineProps<{
  modelValue: string
  label: string
  options: readonly { value: string; text: string }[]
  path?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const hint = computed(() => (props.path ? hintOf(props.path) : ''))
const width = computed(
  () => (props.options.find((o) => o.value === props.modelValue)?.text.length ?? 4) + 2.4,
)
</script>

<template>
  <select
    :value="modelValue"
    :aria-label="label"
    :title="hint"
    :style="{ width: `${width}ch` }"
    @change="emit('update:modelValue', ($event.target as HTMLSelectElement).value)"
  >
    <option v-for="option in options" :key="option.value" :value="option.value">
      {{ option.text }}
    </option>
  </select>
</template>

<style scoped>
select {
  font: inherit;
  font-weight: 650;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1.5px solid var(--brass-line);
  border-radius: 0;
  padding: 0;
  cursor: pointer;
}
select:hover {
  background: var(--brass-wash);
}
option {
  background: var(--paper-raised);
  font-weight: 400;
}
</style>
