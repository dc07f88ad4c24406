<script setup lang="ts">
import { nextTick, ref } from 'vue'
import { RouterLink } from 'vue-router'

import type { PlanSummary } from '@/api/client'
import { fileName } from '@/ui/files'
import { counted, moment } from '@/ui/format'

import RevisionList from './RevisionList.vue'
import SmallWeek from './SmallWeek.vue'
import { LONGEST_NAME } from './useShelf'

/** A stored plan: its week in small, its name, who saved it last, and what can be done to it. */
const props = defineProps<{
  plan: PlanSummary
  rename: (plan: PlanSummary, name: string) => Promise<boolean>
}>()
const emit = defineEmits<{ copy: [number?: number]; remove: [] }>()

const naming = ref(false)
const name = ref('')
const input = ref<HTMLInputElement>()
const history = ref(false)

async function begin(): Promise<void> {
  name.value = props.plan.name
  naming.value = true
  await nextTick()
  input.value?.select()
}
async function commit(): Promise<void> {
  if (!naming.value) return
  const wanted = name.value.trim()
  if (wanted && wanted !== props.plan.name && !(await props.rename(props.plan, wanted))) return
  naming.value = false
}
defineExpose({ begin })
</script>

<template>
  <li class="plan" data-testid="plan-row">
    <SmallWeek :id="plan.id" :key="plan.number" />
    <div class="what">
      <input
        v-if="naming"
        ref="input"
        v-model="name"
        class="name text-box"
        :aria-label="`Name of ${plan.name}`"
        :maxlength="LONGEST_NAME"
        @keydown.enter="commit"
        @keydown.esc="naming = false"
        @blur="commit"
      />
      <RouterLink
        v-else
        class="name"
        :to="{ name: 'board', params: { id: plan.id } }"
        data-testid="plan"
      >
        {{ plan.name }}
      </RouterLink>
      <p class="quiet">
        {{ counted(plan.pools, 'pool') }}, r{{ plan.number
        }}<template v-if="plan.words">: {{ plan.words }}</template>
      </p>
    </div>
    <p class="quiet saved">{{ moment(plan.saved_at) }}<br />by {{ plan.author }}</p>
    <p class="acts">
      <button class="link" :aria-expanded="history" @click="history = !history">Revisions</button>
      <button class="link" @click="begin">Rename</button>
      <button class="link" @click="emit('copy')">Copy</button>
      <a :href="`/api/plans/${plan.id}/document`" :download="fileName(plan.name, 'json')"
        >Plan file</a
      >
      <button class="link" @click="emit('remove')">Remove</button>
    </p>
    <RevisionList
      v-if="history"
      :id="plan.id"
      :key="plan.number"
      class="history"
      @copy="(number) => emit('copy', number)"
    />
  </li>
</template>

<style scoped>
.plan {
  display: grid;
  grid-template-columns: 168px minmax(0, 1fr) 132px auto;
  gap: 2px 20px;
  align-items: center;
  padding: 8px 0;
  border-bottom: 1px solid var(--hair);
}
.what {
  min-width: 0;
}
.what p {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.name {
  font-weight: 650;
  font-size: 15px;
  color: var(--ink);
  overflow-wrap: anywhere;
}
input.name {
  width: 100%;
}
.saved {
  font-size: 12.5px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
.acts a {
  color: var(--ink);
}
.history {
  grid-column: 2 / -1;
  padding: 4px 0 6px;
}
@media (max-width: 900px) {
  .plan {
    grid-template-columns: 168px minmax(0, 1fr);
  }
  .acts,
  .history {
    grid-column: 1 / -1;
  }
}
</style>
