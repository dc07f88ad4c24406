<script setup lang="ts">
import { ref } from 'vue'

/** One of a few words, chosen by mouse or by the arrow keys. */
const props = defineProps<{
  label: string
  options: readonly { value: string; text: string; disabled?: boolean }[]
  modelValue: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const buttons = ref<HTMLButtonElement[]>([])

function step(by: number): void {
  const many = props.options.length
  let place = props.options.findIndex((each) => each.value === props.modelValue)
  for (let tries = 0; tries < many; tries += 1) {
    place = (place + by + many) % many
    if (!props.options[place]?.disabled) break
  }
  const next = props.options[place]
  if (!next) return
  emit('update:modelValue', next.value)
  buttons.value[place]?.focus()
}
</script>

<template>
  <p
    class="row"
    role="radiogroup"
    :aria-label="label"
    @keydown.right.prevent="step(1)"
    @keydown.down.prevent="step(1)"
    @keydown.left.prevent="step(-1)"
    @keydown.up.prevent="step(-1)"
  >
    <button
      v-for="each in options"
      ref="buttons"
      :key="each.value"
      class="link"
      role="radio"
      :data-testid="`show-${each.value}`"
      :tabindex="each.value === modelValue ? 0 : -1"
      :aria-checked="each.value === modelValue"
      :disabled="each.disabled"
      @click="emit('update:modelValue', each.value)"
    >
      {{ each.text }}
    </button>
  </p>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
[aria-checked='true'] {
  font-weight: 650;
  text-decoration-color: var(--ink);
}
</style>
