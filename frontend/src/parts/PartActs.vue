<script setup lang="ts">
import type { Named } from '@/plan/called'
import { copyPart, removePart, type What } from './parts'

/** Copying and removing a thing of the plan; what it is used by says so when it cannot go. */
const props = defineProps<{ what: What; part: Named }>()
const emit = defineEmits<{ made: [id: string]; gone: [] }>()

async function copy(): Promise<void> {
  const id = await copyPart(props.what, props.part)
  if (id) emit('made', id)
}
async function remove(): Promise<void> {
  if (await removePart(props.what, props.part.id)) emit('gone')
}
</script>

<template>
  <span class="acts">
    <button class="link" :data-testid="`copy-${what}`" @click="copy">Copy it</button>
    <button class="link" :data-testid="`remove-${what}`" @click="remove">Remove it</button>
  </span>
</template>

<style scoped>
.acts {
  display: inline-flex;
  gap: 10px;
}
</style>
