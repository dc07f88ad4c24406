<script setup lang="ts">
import { computed, onMounted, shallowRef } from 'vue'

import { api } from '@/api/client'
import { told } from '@/ask/told'

/** A plan's week in small: people as water, the room that stands ready as a line above it. */
const props = defineProps<{ id: number }>()
const WIDTH = 168
const HEIGHT = 34

interface Small {
  sessions: number[]
  ready: number[]
}
const week = shallowRef<Small | null>(null)
onMounted(async () => {
  const answer = await told(
    api.GET('/api/plans/{plan_id}/small', { params: { path: { plan_id: props.id } } }),
  )
  week.value = answer.data ?? null
})

const shapes = computed(() => {
  const found = week.value
  if (!found?.sessions.length) return null
  const top = Math.max(1, ...found.sessions, ...found.ready)
  const wide = WIDTH / found.sessions.length
  const y = (value: number) => (HEIGHT - (value / top) * (HEIGHT - 2)).toFixed(1)
  const line = (values: number[]) =>
    values.map((value, k) => `V${y(value)}H${((k + 1) * wide).toFixed(1)}`).join('')
  return {
    water: `M0 ${HEIGHT}${line(found.sessions)}V${HEIGHT}Z`,
    quay: `M0 ${y(found.ready[0] ?? 0)}${line(found.ready)}`,
    most: Math.round(Math.max(...found.sessions)),
  }
})
</script>

<template>
  <svg
    :width="WIDTH"
    :height="HEIGHT"
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    role="img"
    :aria-label="
      shapes ? `Its week: at most ${shapes.most} people at once` : 'No picture of its week'
    "
  >
    <template v-if="shapes">
      <path :d="shapes.water" class="water" />
      <path :d="shapes.quay" class="quay" />
    </template>
    <path :d="`M0 ${HEIGHT - 0.5}H${WIDTH}`" class="ground" />
  </svg>
</template>

<style scoped>
.water {
  fill: var(--water-2);
}
.quay {
  fill: none;
  stroke: var(--brass-line);
}
.ground {
  stroke: var(--hair-strong);
}
</style>
