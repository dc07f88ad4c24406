<script setup lang="ts">
/** Words that let a file be chosen. */
defineProps<{ accept: string }>()
const emit = defineEmits<{ file: [file: File] }>()

function taken(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) emit('file', file)
}
</script>

<template>
  <label class="file">
    <slot />
    <input type="file" :accept="accept" class="visually-hidden" @change="taken" />
  </label>
</template>

<style scoped>
.file {
  cursor: pointer;
  text-decoration: underline;
  text-decoration-color: var(--hair-strong);
  text-underline-offset: 3px;
}
.file:hover {
  text-decoration-color: var(--ink);
}
.file:focus-within {
  outline: 2px solid var(--focus);
}
</style>
