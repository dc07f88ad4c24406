<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import { boundsOf, hintOf } from '@/help/hints'

import FieldHint from './FieldHint.vue'

/** A value inside a sentence that is edited where it stands; its meaning shows on hover and focus. */
const props = defineProps<{
  modelValue: number | string
  label: string
  path?: string
  kind?: 'number' | 'text' | 'clock' | 'money' | 'timeout'
  scale?: number
  list?: string
  allowed?: readonly string[]
  unit?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number | string] }>()

const editing = ref<string | null>(null)
const wrong = ref('')
const focused = ref(false)
const input = ref<HTMLInputElement>()
const numeric = computed(() => (props.kind ?? 'number') === 'number')
const scale = computed(() => props.scale ?? 1)
const shown = computed(() =>
  numeric.value
    ? String(Math.round(Number(props.modelValue) * scale.value * 1e6) / 1e6)
    : String(props.modelValue),
)
const text = computed(() => editing.value ?? shown.value)
const hint = computed(() => (props.path ? hintOf(props.path) : ''))

function check(value: string): string {
  if (props.kind === 'clock') {
    return /^([01]?\d|2[0-3]):[0-5]\d$/.test(value) ? '' : 'give a time such as 08:45'
  }
  if (props.kind === 'money')
    return /^\d+(\.\d{1,6})?$/.test(value) ? '' : 'give an amount such as 0.412'
  if (props.kind === 'timeout') {
    return /^(\d+(\.\d+)?|never)$/.test(value) ? '' : 'give minutes, or never'
  }
  if (props.allowed?.length && !props.allowed.includes(value)) return 'choose a name that is known'
  if (!numeric.value) return value.trim() ? '' : 'this cannot be empty'
  const number = Number(value.replace(',', '.'))
  if (!value.trim() || !Number.isFinite(number)) return 'give a number'
  const { low, high } = props.path ? boundsOf(props.path) : {}
  const actual = number / scale.value
  if ((low !== undefined && actual < low) || (high !== undefined && actual > high)) {
    return `from ${(low ?? 0) * scale.value} to ${(high ?? 0) * scale.value}`
  }
  return ''
}

function commit(): void {
  if (editing.value === null) return
  const value = editing.value.trim()
  wrong.value = check(value)
  if (wrong.value) return
  editing.value = null
  if (value === shown.value) return
  if (numeric.value) emit('update:modelValue', Number(value.replace(',', '.')) / scale.value)
  else emit('update:modelValue', props.kind === 'clock' ? value.padStart(5, '0') : value)
}

function leave(): void {
  focused.value = false
  commit()
}

function cancel(): void {
  editing.value = null
  wrong.value = ''
  void nextTick(() => input.value?.select())
}

function step(event: KeyboardEvent, direction: number): void {
  if (!numeric.value) return
  event.preventDefault()
  const by = direction * (event.shiftKey ? 10 : 1)
  const next = String(Math.round((Number(text.value) + by) * 1e6) / 1e6)
  if (check(next)) return
  editing.value = next
  commit()
}
</script>

<template>
  <span class="token">
    <input
      ref="input"
      :value="text"
      :aria-label="label"
      :aria-invalid="wrong !== ''"
      :title="hint"
      :list="list"
      :inputmode="numeric || kind === 'money' ? 'decimal' : 'text'"
      :style="{ width: `${Math.max(text.length, 1) + 1.2}ch` }"
      autocomplete="off"
      spellcheck="false"
      @input="editing = ($event.target as HTMLInputElement).value"
      @change="commit"
      @focus="focused = true"
      @blur="leave"
      @keydown.enter.prevent="commit"
      @keydown.esc="cancel"
      @keydown.up="step($event, 1)"
      @keydown.down="step($event, -1)"
    /><span v-if="unit" class="unit">&hairsp;{{ unit }}</span>
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
    <FieldHint v-else-if="focused && hint" :text="hint" />
  </span>
</template>

<style scoped>
.token {
  position: relative;
  white-space: nowrap;
}
input {
  font: inherit;
  font-weight: 650;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1.5px solid var(--brass-line);
  padding: 0 1px;
  text-align: center;
  font-variant-numeric: tabular-nums;
}
input::-webkit-calendar-picker-indicator {
  display: none !important;
}
input:hover {
  background: var(--brass-wash);
}
input[aria-invalid='true'] {
  border-color: var(--buoy);
}
.unit {
  font-weight: 400;
}
.wrong {
  position: absolute;
  top: 100%;
  left: 0;
  z-index: 20;
  background: var(--buoy-wash);
  color: var(--ink);
  border: 1px solid var(--buoy);
  padding: 2px 6px;
  font-size: 12px;
  font-weight: 400;
}
</style>
