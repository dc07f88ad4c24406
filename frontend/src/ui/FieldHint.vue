<script setup lang="ts">
/** What a field means, shown beside it while it has the focus. */
defineProps<{ text: string }>()
</script>

<template>
  <span class="hint" role="tooltip">{{ text }}</span>
</template>

<style scoped>
.hint {
  position: absolute;
  top: calc(100% + 3px);
  left: 0;
  z-index: 20;
  width: max-content;
  max-width: 260px;
  white-space: normal;
  line-height: 1.35;
  background: var(--paper-raised);
  border: 1px solid var(--hair-strong);
  border-left: 3px solid var(--brass-line);
  padding: 3px 8px;
  font-size: 12px;
  font-weight: 400;
  pointer-events: none;
}
</style>
