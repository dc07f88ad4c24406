<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { Plan, RevisionSummary } from '@/api/client'
import { night, toggleTheme } from '@/theme/theme'

defineProps<{
  plan: Plan
  pool: string
  revision: number
  latest: number
  revisions: RevisionSummary[]
  pinned: number | null
  dirty: boolean
  canUndo: boolean
  canRedo: boolean
}>()
const emit = defineEmits<{
  pool: [id: string]
  pin: [number: number | null]
  week: [date: string]
  undo: []
  redo: []
  save: []
  discard: []
}>()
function pinFrom(event: Event): void {
  const value = (event.target as HTMLSelectElement).value
  emit('pin', value ? Number(value) : null)
}
</script>

<template>
  <header class="bar">
    <RouterLink to="/" class="mark" title="All plans">
      <svg viewBox="0 0 30 20" width="30" height="20" aria-hidden="true">
        <path d="M1 4h9v5h10v-4h9" class="quay" />
        <path d="M1 19v-5c4-2.6 8-2.6 12 0s10 2.6 16-.8v5.8z" class="water" />
      </svg>
      Idle Harbor
    </RouterLink>
    <h1>{{ plan.name }}</h1>
    <label v-if="plan.pools.length">
      pool
      <select
        :value="pool"
        data-testid="pool"
        @change="emit('pool', ($event.target as HTMLSelectElement).value)"
      >
        <option v-for="item in plan.pools" :key="item.id" :value="item.id">{{ item.id }}</option>
      </select>
    </label>
    <label>
      week of
      <input
        type="date"
        :value="plan.week_of"
        @change="emit('week', ($event.target as HTMLInputElement).value)"
      />
    </label>
    <label v-if="plan.pools.length">
      against
      <select :value="pinned ?? ''" data-testid="pin" @change="pinFrom">
        <option value="">nothing</option>
        <option v-for="item in revisions" :key="item.number" :value="item.number">
          r{{ item.number }}{{ item.words ? ` ${item.words.slice(0, 36)}` : '' }}
        </option>
      </select>
    </label>
    <span class="room"></span>
    <span class="state" data-testid="state" :title="`Revision ${revision}`">
      r{{ revision }}<template v-if="dirty"> · edited</template>
    </span>
    <button
      class="link"
      :disabled="!canUndo"
      data-testid="undo"
      title="Ctrl+Z"
      @click="emit('undo')"
    >
      Undo
    </button>
    <button
      class="link"
      :disabled="!canRedo"
      data-testid="redo"
      title="Ctrl+Y"
      @click="emit('redo')"
    >
      Redo
    </button>
    <button v-if="dirty" class="link" @click="emit('discard')">Back to r{{ revision }}</button>
    <ElButton
      type="primary"
      size="small"
      :disabled="!dirty"
      data-testid="save"
      title="Ctrl+S"
      @click="emit('save')"
    >
      Save
    </ElButton>
    <button
      class="plain theme"
      :aria-label="night ? 'Show the day chart' : 'Show the night chart'"
      :title="night ? 'Day chart' : 'Night chart'"
      data-testid="theme"
      @click="toggleTheme"
    >
      {{ night ? '☀' : '☾' }}
    </button>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 12px;
  height: 44px;
  padding: 0 16px;
  border-bottom: 1px solid var(--hair-strong);
  white-space: nowrap;
}
.mark {
  display: flex;
  align-items: center;
  gap: 8px;
  color: var(--ink);
  text-decoration: none;
  font-weight: 650;
}
.quay {
  fill: none;
  stroke: var(--brass);
  stroke-width: 2;
}
.water {
  fill: var(--water-1);
}
h1 {
  font-size: 15px;
  font-weight: 500;
  padding-left: 12px;
  border-left: 1px solid var(--hair-strong);
  overflow: hidden;
  text-overflow: ellipsis;
}
label {
  color: var(--ink-quiet);
}
select,
input {
  font: inherit;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hair-strong);
  max-width: 180px;
}
option {
  background: var(--paper-raised);
}
.room {
  flex: 1;
}
.state {
  color: var(--ink-quiet);
}
.theme {
  width: 28px;
  height: 28px;
  text-align: center;
  font-size: 15px;
}
</style>
