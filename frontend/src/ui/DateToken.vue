<script setup lang="ts">
import { ref } from 'vue'

import { days } from '@/help/hints'

import WrongNote from './WrongNote.vue'

/** A date where it stands in a sentence.
 *
 * A date that is typed passes through dates that nobody meant, such as the year 2: it is committed
 * on Enter or on leaving, a chosen one at once. One that is refused stays with its reason. */
const props = defineProps<{ modelValue: string; label: string }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
defineOptions({ inheritAttrs: false })

const typing = ref(false)
const wrong = ref('')
/** A date that was refused. */
const refused = ref<string | null>(null)

function reasonOf(input: HTMLInputElement): string {
  if (!input.value) return 'give a whole date'
  if (input.validity.valid) return ''
  return `from ${days.value.earliest ?? ''} to ${days.value.latest ?? ''}`
}

function commit(event: Event): void {
  const input = event.target as HTMLInputElement
  typing.value = false
  wrong.value = reasonOf(input)
  refused.value = wrong.value ? input.value : null
  if (!wrong.value && input.value !== props.modelValue) emit('update:modelValue', input.value)
}

function cancel(event: Event): void {
  ;(event.target as HTMLInputElement).value = props.modelValue
  commit(event)
}
</script>

<template>
  <span class="token value">
    <input
      type="date"
      v-bind="$attrs"
      :aria-label="label"
      :aria-invalid="wrong !== ''"
      :value="refused ?? modelValue"
      :min="days.earliest"
      :max="days.latest"
      @keydown="typing = true"
      @keydown.enter.prevent="commit"
      @keydown.esc="cancel"
      @pointerdown="typing = false"
      @change="typing || commit($event)"
      @blur="commit"
    />
    <WrongNote v-if="wrong" :text="wrong" />
  </span>
</template>

<style src="./token.css"></style>

<style scoped>
input {
  width: 122px;
}
</style>
