<script setup lang="ts">
import { ref } from 'vue'

import type { Plan } from '@/api/client'
import { usePlan } from '@/plan/store'
import { freeId } from '@/ui/ids'

/** A new group: named people, or people who drop in. */
const props = defineProps<{ plan: Plan; first?: boolean }>()
const store = usePlan()

const open = ref(false)
const name = ref('')
const kind = ref<'headcount' | 'drop-in'>('headcount')

async function add(): Promise<void> {
  const group = freeId(
    name.value,
    props.plan.groups.map((each) => each.id),
  )
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || 'Europe/Dublin'
  const edit = { verb: 'add-group' as const, group, kind: kind.value, zone, people: 50 }
  if (!(await store.apply(edit))) return
  open.value = false
  name.value = ''
}
</script>

<template>
  <div class="add" :class="{ first }">
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
