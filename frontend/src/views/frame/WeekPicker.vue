<script setup lang="ts">
import DateToken from '@/ui/DateToken.vue'

import { daysLater, useWeek } from './useWeek'

/** Which week is looked at: any of any year; the plan keeps one as its own. */
const { first, own, go, keep } = useWeek()
</script>

<template>
  <span class="week">
    <button
      class="plain turn"
      aria-label="The week before"
      data-testid="week-before"
      @click="go(daysLater(first, -7))"
    >
      ‹
    </button>
    <span>week of <DateToken label="week of" :model-value="first" @update:model-value="go" /></span>
    <button
      class="plain turn"
      aria-label="The week after"
      data-testid="week-after"
      @click="go(daysLater(first, 7))"
    >
      ›
    </button>
    <button v-if="first !== own" class="link" title="Make this the plan's own week" @click="keep">
      keep
    </button>
  </span>
</template>

<style scoped>
.week {
  display: inline-flex;
  align-items: center;
  gap: 2px;
  color: var(--ink-quiet);
}
.turn {
  width: 18px;
  text-align: center;
  font-size: 17px;
  color: var(--ink);
}
.week :deep(input) {
  font-weight: 400;
  border-bottom: 1px solid var(--hair-strong);
}
</style>
