<script setup lang="ts">
import { computed } from 'vue'

import FieldToken from './FieldToken.vue'
import { useScope } from './scope'

/** A field that may be without a value: set where it stands, or said to have none. */
const props = defineProps<{
  field: string
  label: string
  none: string
  /** What it begins with when it is given a value. */
  start: number | string
  kind?: 'number' | 'date'
  unit?: string
}>()
const scope = useScope()
const value = computed(() => scope.read(props.field) as number | string | null)

function set(next: number | string | null): void {
  scope.set(props.field, next)
}
</script>

<template>
  <button v-if="value === null" class="link" :aria-label="label" @click="set(start)">
    {{ none }}
  </button>
  <span v-else class="both">
    <FieldToken :field="field" :label="label" :kind="kind" :unit="unit" />
    <button class="plain none" :aria-label="`${label}: ${none}`" :title="none" @click="set(null)">
      clear
    </button>
  </span>
</template>

<style scoped>
.both {
  white-space: nowrap;
}
.none {
  color: var(--ink-quiet);
  padding: 0 4px;
  font-size: 12px;
}
.none:hover {
  color: var(--ink);
}
</style>
