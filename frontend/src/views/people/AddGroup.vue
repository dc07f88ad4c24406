<script setup lang="ts">
import { ref, shallowRef } from 'vue'

import type { Plan, Problem } from '@/api/client'
import { completed } from '@/api/complete'
import { freeId } from '@/ui/ids'
import ProblemNote from '@/ui/ProblemNote.vue'

/** A new group: named people, or people who drop in. */
const props = defineProps<{ plan: Plan; first?: boolean }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

const open = ref(false)
const name = ref('')
const kind = ref<'headcount' | 'drop-in'>('headcount')
const problem = shallowRef<Problem | null>(null)
const workdays = ['mon', 'tue', 'wed', 'thu', 'fri']

async function add(): Promise<void> {
  const { plan } = props
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || 'Europe/Dublin'
  const sites = plan.sites.length ? plan.sites : [{ id: 'main', time_zone: zone }]
  const profiles = plan.profiles.length ? plan.profiles : [{ id: 'office' }]
  const id = freeId(
    name.value,
    plan.groups.map((group) => group.id),
  )
  const days = (value: unknown) => Object.fromEntries(workdays.map((day) => [day, value]))
  const opening = Array.from({ length: 24 }, (_, hour) => (hour >= 9 && hour < 17 ? 20 : 0))
  const demand =
    kind.value === 'headcount'
      ? { kind: 'headcount', people: 50, patterns: [{ id: 'day', attendance: days(0.9) }] }
      : { kind: 'drop-in', arrivals_per_hour: days(opening) }
  const group = { id, site: sites[0]?.id, profile: profiles[0]?.id, demand }
  const pool = plan.pools[0]?.id
  const filled = await completed({
    ...plan,
    sites,
    profiles,
    groups: [...plan.groups, group],
    access: pool ? [...plan.access, { group: id, pool }] : plan.access,
  })
  problem.value = filled.problem
  if (!filled.plan) return
  emit('edit', (target) => Object.assign(target, filled.plan))
  open.value = false
  name.value = ''
}
</script>

<template>
  <div class="add" :class="{ first }">
    <ProblemNote v-if="problem" :problem="problem" />
    <h2 v-if="first">Nobody is planned for yet. Who comes first?</h2>
    <button v-if="!open && !first" class="link" data-testid="add-group" @click="open = true">
      Add a group
    </button>
    <form v-else data-testid="new-group" @submit.prevent="add">
      <input
        v-model="name"
        class="name"
        aria-label="Name of the group"
        placeholder="name"
        required
      />
      <label><input v-model="kind" type="radio" value="headcount" /> named people</label>
      <label><input v-model="kind" type="radio" value="drop-in" /> people who drop in</label>
      <button class="link">Add</button>
      <button v-if="!first" type="button" class="link" @click="open = false">Not now</button>
    </form>
  </div>
</template>

<style scoped>
.add {
  margin-top: 6px;
}
.first {
  padding: 24px 16px;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
.name {
  font: inherit;
  width: 140px;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1.5px solid var(--brass-line);
}
</style>
