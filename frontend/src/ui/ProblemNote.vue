<script setup lang="ts">
import type { Problem } from '@/api/client'

/** What is wrong, where, and what to do. */
defineProps<{ problem: Problem }>()
</script>

<template>
  <div class="note" role="alert" data-testid="problem">
    <b>{{ problem.title }}</b>
    <template v-if="problem.faults?.length">
      <p v-for="fault in problem.faults.slice(0, 4)" :key="fault.pointer + fault.message">
        {{ fault.message }} <span class="quiet">({{ fault.pointer || 'the plan' }})</span> —
        {{ fault.remedy }}
      </p>
      <p v-if="problem.faults.length > 4">and {{ problem.faults.length - 4 }} more</p>
    </template>
    <p v-else>
      {{ problem.detail }}<template v-if="problem.remedy"> — {{ problem.remedy }}</template>
    </p>
    <slot />
  </div>
</template>

<style scoped>
.note {
  border: 1px solid var(--buoy);
  border-left-width: 4px;
  background: var(--buoy-wash);
  padding: 6px 12px;
}
.quiet {
  color: inherit;
}
</style>
