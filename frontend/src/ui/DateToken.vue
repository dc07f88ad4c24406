<script setup lang="ts">
import ValueToken from './ValueToken.vue'

/** A date where it stands in a sentence, typed as 2027-03-01 or with the month's name. Arrow keys
 * move it by a day, with Shift by a week. */
defineProps<{ modelValue: string; label: string }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
</script>

<template>
  <ValueToken
    kind="date"
    :model-value="modelValue"
    :label="label"
    @update:model-value="emit('update:modelValue', String($event))"
  />
</template>
