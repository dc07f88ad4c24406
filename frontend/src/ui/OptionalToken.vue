<script setup lang="ts">
import { computed } from 'vue'

import DateToken from './DateToken.vue'
import FieldToken from './FieldToken.vue'
import { read, useScope, write } from './scope'

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
const value = computed(() => read(scope.value(), props.field) as number | string | null)

function set(next: number | string | null): void {
  scope.edit((part) => write(part, props.field, next))
}
</script>

<template>
  <button v-if="value === null" class="link" :aria-label="label" @click="set(start)">
    {{ none }}
  </button>
  <span v-else class="both">
    <DateToken
      v-if="kind === 'date'"
      :label="label"
      :model-value="String(value)"
      @update:model-value="set"
    />
    <FieldToken v-else :field="field" :label="label" :unit="unit" />
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
