<script setup lang="ts">
import { computed, ref } from 'vue'

import { hintOf } from '@/help/hints'

import FieldHint from './FieldHint.vue'

/** A choice inside a sentence, changed where it stands. */
const props = defineProps<{
  modelValue: string
  label: string
  options: readonly { value: string; text: string }[]
  path?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const hint = computed(() => (props.path ? hintOf(props.path) : ''))
const focused = ref(false)
const width = computed(
  () => (props.options.find((o) => o.value === props.modelValue)?.text.length ?? 4) * 0.85 + 4.4,
)
</script>

<template>
  <span class="token">
    <select
      :value="modelValue"
      :aria-label="label"
      :data-path="path"
      :title="hint"
      :style="{ width: `${width}ch` }"
      @focus="focused = true"
      @blur="focused = false"
      @change="emit('update:modelValue', ($event.target as HTMLSelectElement).value)"
    >
      <option v-for="option in options" :key="option.value" :value="option.value">
        {{ option.text }}
      </option>
    </select>
    <FieldHint v-if="focused && hint" :text="hint" />
  </span>
</template>

<style src="./token.css"></style>

<style scoped>
select {
  cursor: pointer;
}
option {
  background: var(--paper-raised);
  font-weight: 400;
}
</style>
