<script setup lang="ts">
import { computed, watch } from 'vue'

import { api, type PlacesAnswer, type Plan } from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { about } from '@/ask/send'
import { called } from '@/plan/called'
import { count, money } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

import type { Hosts } from './useHosts'

/** Where a group's hosts should be: by the data rule, then by comfort, then by cost. */
const props = defineProps<{ hosts: Hosts }>()
const group = computed(() => props.hosts.group.value ?? props.hosts.groups.value[0] ?? null)
const places = useQuestion<{ plan: Plan; pool: string; group: string }, PlacesAnswer>(
  (wish, call) => api.POST('/api/hosts/places', about(wish, call)),
  {
    key: (wish) => keyOf(wish.plan, wish.pool, wish.group),
    about: (wish) => `${wish.pool} ${wish.group}`,
  },
)
watch(
  // A gesture changes nothing about places: they follow when it has ended.
  [() => props.hosts.store.settled, () => props.hosts.pool.value?.id, group],
  () => {
    const plan = props.hosts.store.settled
    const pool = props.hosts.pool.value
    if (plan && pool && group.value) places.ask({ plan, pool: pool.id, group: group.value })
    else places.forget()
  },
  { immediate: true },
)
function move(place: string): void {
  const pool = props.hosts.pool.value?.id
  if (pool) void props.hosts.store.apply({ verb: 'move-pool', pool, place })
}
</script>

<template>
  <ProblemNote
    v-if="places.problem.value && !hosts.sizing.problem.value"
    :problem="places.problem.value"
  />
  <section v-if="places.answer.value?.places.length" data-testid="places">
    <h2>Where {{ group ? called('groups', group) : '' }} could work</h2>
    <div
      v-for="place in places.answer.value.places"
      :key="place.id"
      class="place"
      :class="{ here: place.id === hosts.pool.value?.place }"
    >
      <p>
        <b>{{ called('places', place.id) }}</b> <span class="quiet">{{ place.area }}</span>
        <span v-if="place.id === hosts.pool.value?.place"> · the pool is here</span>
        <button v-else class="link" :aria-label="`Move to ${called('places', place.id)}`" @click="move(place.id)">
          Move
        </button>
      </p>
      <p class="facts">
        <span>{{
          place.round_trip_ms === null ? 'not measured' : `${count(place.round_trip_ms)} ms`
        }}</span>
        <span v-if="place.per_session_hour"
          >{{ money(place.per_session_hour, places.answer.value.currency, 3) }} a session-hour on
          {{ called('sizes', place.size ?? '') }}</span
        >
      </p>
      <p :class="place.best ? 'good' : place.data_allowed && !place.behind ? 'quiet' : 'bad'">
        {{ place.best ? '✓' : place.data_allowed && !place.behind ? '·' : '✕' }} {{ place.why }}
      </p>
    </div>
  </section>
</template>

<style scoped>
.place {
  padding: 5px 0;
  border-bottom: 1px solid var(--hair);
  line-height: 1.4;
}
.place p > * + * {
  margin-left: 6px;
}
.facts {
  display: flex;
  gap: 10px;
  font-variant-numeric: tabular-nums;
}
</style>
