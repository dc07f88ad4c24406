<script setup lang="ts">
import { computed, ref } from 'vue'

import { hintOf } from '@/help/hints'

import FieldHint from './FieldHint.vue'
import { useScope } from './scope'

/** A list of names inside a sentence, separated by commas; empty where none is named. */
const props = defineProps<{ field: string; label: string; none: string }>()
const scope = useScope()
const focused = ref(false)
const names = computed(() => (scope.read(props.field) as string[] | undefined) ?? [])
const hint = computed(() => hintOf(scope.pathOf(props.field)))
const shown = computed(() => names.value.join(', '))

function set(event: Event): void {
  const text = (event.target as HTMLInputElement).value
  const list = text
    .split(',')
    .map((name) => name.trim())
    .filter((name) => name !== '')
  scope.set(props.field, [...new Set(list)])
}
</script>

<template>
  <span class="token">
    <input
      :value="shown"
      :placeholder="none"
      :aria-label="label"
      :data-path="scope.pathOf(field)"
      :title="hint"
      :style="{ width: `${Math.max(shown.length, shown ? 3 : none.length) + 1.5}ch` }"
      autocomplete="off"
      spellcheck="false"
      @change="set"
      @focus="focused = true"
      @blur="focused = false"
    />
    <FieldHint v-if="focused && hint" :text="hint" />
  </span>
</template>

<style src="./token.css"></style>

<style scoped>
input::placeholder {
  color: var(--ink-quiet);
  font-weight: 400;
  opacity: 1;
}
</style>
