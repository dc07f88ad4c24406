<script setup lang="ts">
import { ref } from 'vue'

import { addGroup } from '@/parts/parts'

/** A new group: named people, or people who drop in. */
const props = defineProps<{
  first?: boolean
  /** Look at the group that was added: by then this may be gone from the page. */
  look: (group: string) => void
}>()

const open = ref(false)
const name = ref('')
const kind = ref<'headcount' | 'drop-in'>('headcount')

async function add(): Promise<void> {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || 'Europe/Dublin'
  const named = { name: name.value.trim(), kind: kind.value }
  const id = await addGroup({ verb: 'add-group', ...named, zone, people: 50 })
  if (!id) return
  open.value = false
  name.value = ''
  props.look(id)
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
        class="name text-box"
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
  width: 140px;
}
</style>
