<script setup lang="ts">
/** How far a long answer is, and a way to give it up. */
defineProps<{ progress: { done: number; of: number }; what: string }>()
defineEmits<{ stop: [] }>()
</script>

<template>
  <!-- A bar tells readers how far it is; a live region would speak at each step. -->
  <p class="progress" data-testid="progress">
    <progress :value="progress.done" :max="progress.of" :aria-label="what"></progress>
    {{ progress.done }} of {{ progress.of }} {{ what }}
    <button class="link" @click="$emit('stop')">stop</button>
  </p>
</template>

<style scoped>
.progress {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 4px 0;
  color: var(--ink-quiet);
  font-size: 13px;
}
progress {
  width: 160px;
  height: 6px;
  appearance: none;
  border: 0;
  background: var(--hair);
}
progress::-webkit-progress-bar {
  background: var(--hair);
}
progress::-webkit-progress-value {
  background: var(--brass);
}
progress::-moz-progress-bar {
  background: var(--brass);
}
</style>
