<script setup lang="ts">
import { nameOf } from '@/plan/called'
import { usePlan } from '@/plan/store'

/** Which pool of the plan is looked at. */
defineProps<{ pool: string | undefined }>()
const emit = defineEmits<{ choose: [pool: string] }>()
const store = usePlan()
</script>

<template>
  <label v-if="store.plan?.pools.length">
    pool
    <select
      class="text-box"
      :value="pool ?? ''"
      data-testid="pool"
      @change="emit('choose', ($event.target as HTMLSelectElement).value)"
    >
      <option v-for="each in store.plan.pools" :key="each.id" :value="each.id">
        {{ nameOf(each) }}
      </option>
    </select>
  </label>
</template>

<style scoped>
label {
  color: var(--ink-quiet);
}
select {
  max-width: 180px;
}
</style>
