<script setup lang="ts">
import { computed } from 'vue'

import type { Plan, Pool } from '@/api/client'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { words } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

/** What people are owed: everyone, or those of this pool where it has a promise of its own. */
const props = defineProps<{ plan: Plan; pool: Pool }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

type Part =
  | 'wait_p95_seconds'
  | 'refused_share'
  | 'strained_share'
  | 'lost_returns'
  | 'forced_share'
  | 'comfort'

const own = computed(() => props.pool.promise ?? null)
const owed = (part: Part): number => own.value?.[part] ?? props.plan.promise[part]
const path = (part: Part) => (own.value ? `pools.promise.${part}` : `promise.${part}`)
const WHOM = computed(() => [
  { value: 'all', text: 'everyone' },
  { value: 'own', text: `the people of ${words(props.pool.id)} alone` },
])
const LOSS = [
  { value: 'no', text: 'some may not' },
  { value: 'yes', text: 'all still' },
]

function inPool(change: (pool: Pool) => void): void {
  emit('edit', (plan) => {
    const pool = plan.pools.find((p) => p.id === props.pool.id)
    if (pool) change(pool)
  })
}
function set(part: Part, value: number): void {
  if (!own.value) {
    emit('edit', (plan) => {
      plan.promise[part] = value
    })
    return
  }
  inPool((pool) => {
    if (pool.promise) pool.promise[part] = value
  })
}
const AS_ALL = {
  wait_p95_seconds: null,
  refused_share: null,
  strained_share: null,
  lost_returns: null,
  forced_share: null,
  comfort: null,
}
/** A promise of a pool's own begins with the wait that everyone is promised. */
function setWhom(whom: string): void {
  inPool((pool) => {
    const wait = { wait_p95_seconds: props.plan.promise.wait_p95_seconds }
    pool.promise = whom === 'own' ? { ...AS_ALL, ...wait } : null
  })
}
</script>

<template>
  <section>
    <h3>The promise</h3>
    <p>
      To
      <ChoiceToken
        label="To whom this is promised"
        :options="WHOM"
        :model-value="own ? 'own' : 'all'"
        @update:model-value="setWhom"
      />: 19 of 20 logons within
      <ValueToken
        label="Promised wait in seconds"
        unit="s"
        :path="path('wait_p95_seconds')"
        :model-value="owed('wait_p95_seconds')"
        @update:model-value="(v) => set('wait_p95_seconds', Number(v))"
      />, at most
      <ValueToken
        label="Promised refusals in per cent"
        unit="%"
        :scale="100"
        :path="path('refused_share')"
        :model-value="owed('refused_share')"
        @update:model-value="(v) => set('refused_share', Number(v))"
      />
      refused,
      <ValueToken
        label="Promised strain in per cent"
        unit="%"
        :scale="100"
        :path="path('strained_share')"
        :model-value="owed('strained_share')"
        @update:model-value="(v) => set('strained_share', Number(v))"
      />
      of working time strained, at most
      <ValueToken
        label="Promised lost returns in per cent"
        unit="%"
        :scale="100"
        :path="path('lost_returns')"
        :model-value="owed('lost_returns')"
        @update:model-value="(v) => set('lost_returns', Number(v))"
      />
      of those who come back find their session gone,
      <ValueToken
        label="Promised forced sign-offs in per cent"
        unit="%"
        :scale="100"
        :path="path('forced_share')"
        :model-value="owed('forced_share')"
        @update:model-value="(v) => set('forced_share', Number(v))"
      />
      of sessions end by force; a comfort of at least
      <ValueToken
        label="Promised comfort in per cent"
        unit="%"
        :scale="100"
        :path="path('comfort')"
        :model-value="owed('comfort')"
        @update:model-value="(v) => set('comfort', Number(v))"
      />. For everyone: a round trip to the hosts within
      <ValueToken
        label="Promised round trip in milliseconds"
        unit="ms"
        path="promise.round_trip_ms"
        :model-value="plan.promise.round_trip_ms"
        @update:model-value="(v) => emit('edit', (p) => (p.promise.round_trip_ms = Number(v)))"
      />, and when a zone is lost
      <ChoiceToken
        label="Whether everyone finds room when a zone is lost"
        path="promise.zone_loss"
        :options="LOSS"
        :model-value="plan.promise.zone_loss ? 'yes' : 'no'"
        @update:model-value="(v) => emit('edit', (p) => (p.promise.zone_loss = v === 'yes'))"
      />
      find room.
    </p>
  </section>
</template>

<style scoped>
section {
  break-inside: avoid;
  padding-bottom: 6px;
}
h3 {
  font-size: 13px;
  font-weight: 650;
}
</style>
