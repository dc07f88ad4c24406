<script setup lang="ts">
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
    <label>
      week of
      <input
        type="date"
        :value="first"
        data-testid="week"
        @change="go(($event.target as HTMLInputElement).value)"
      />
    </label>
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
input {
  font: inherit;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hair-strong);
}
</style>
