<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'

import ValueToken from '@/ui/ValueToken.vue'

import { nameOf, type Named } from '@/plan/called'
import { added, type What } from './parts'
import { usePlan } from '@/plan/store'

/** What a thing of the plan is called, typed as people write it; its id stays. */
const props = defineProps<{ what: What; part: Named }>()
const store = usePlan()
const token = ref<InstanceType<typeof ValueToken>>()

function rename(name: string): void {
  const { what, part } = props
  void store.apply({ verb: 'name-part', what, part: part.id, name })
}
watch(
  [added, () => props.part.id],
  async ([made]) => {
    if (made?.what !== props.what || made.id !== props.part.id) return
    added.value = null
    await nextTick()
    token.value?.select()
  },
  { immediate: true },
)
</script>

<template>
  <ValueToken
    ref="token"
    kind="text"
    :label="`Name of the ${what}`"
    path="pools.name"
    :model-value="nameOf(part)"
    @update:model-value="(name) => rename(String(name))"
  />
</template>
