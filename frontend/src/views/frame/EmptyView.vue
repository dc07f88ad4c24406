<script setup lang="ts">
import { RouterLink } from 'vue-router'

/** A view of a plan without a pool: what it will show, and what it needs for that. */
defineProps<{ id: number; view: keyof typeof SHOWS }>()
</script>

<script lang="ts">
const SHOWS = {
  hosts:
    'Here a picture shows what a host of each size bears, what binds first, and how many hosts the peak needs.',
  pools:
    'Here every pool stands beside the others: its peak against its hosts, how long people wait, and what its month costs.',
  tuner:
    'Here a search finds settings that keep the promise and cost the least, and says what each change does.',
  checks: 'Here stands what would make a build or a morning fail, each with what mends it.',
} as const
</script>

<template>
  <main class="empty" data-testid="empty">
    <h2>Nothing to show yet</h2>
    <p>{{ SHOWS[view] }}</p>
    <p>
      It needs people, and a pool of hosts for them.
      <RouterLink :to="{ name: 'board', params: { id } }">Say who comes, and onto what</RouterLink>
    </p>
  </main>
</template>

<style scoped>
.empty {
  max-width: 70ch;
  margin: 12vh auto 0;
  padding: 0 24px;
  font-size: 16px;
  line-height: 1.6;
}
h2 {
  font-size: 18px;
  font-weight: 650;
  border-bottom: 3px solid var(--brass);
  margin-bottom: 10px;
}
a {
  color: var(--ink);
}
</style>
