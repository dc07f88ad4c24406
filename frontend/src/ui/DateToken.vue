<script setup lang="ts">
/** A date inside a sentence, chosen where it stands. */
defineProps<{ modelValue: string; label: string }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()

function commit(event: Event): void {
  const { value } = event.target as HTMLInputElement
  if (value) emit('update:modelValue', value)
}
</script>

<template>
  <input class="date" type="date" :aria-label="label" :value="modelValue" @change="commit" />
</template>

<style scoped>
.date {
  font: inherit;
  font-weight: 650;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1.5px solid var(--brass-line);
  width: 122px;
}
</style>
