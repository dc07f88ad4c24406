<script setup lang="ts">
/** Why a typed value is refused, below the box that it stays in. */
defineProps<{ text: string; id?: string }>()
</script>

<template>
  <span :id="id" class="wrong" role="alert">{{ text }}</span>
</template>

<style scoped>
.wrong {
  position: absolute;
  top: 100%;
  left: 0;
  z-index: 20;
  background: var(--buoy-wash);
  color: var(--ink);
  border: 1px solid var(--buoy);
  padding: 2px 6px;
  font-size: 12px;
  font-weight: 400;
}
</style>
